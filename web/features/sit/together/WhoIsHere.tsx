import { useEffect } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView, TakeView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../../base/api';
import { t } from '../../../base/i18n';
import { Loading } from '../../../parts/Loading';
import { Notice } from '../../../parts/Notice';
import { useCompanionsQuery, useSetCompanionsMutation } from './endpoints';
import { People } from './People';
import type { Ticked } from './useCompanions';

/** Who is heard in what is recorded on this device: ticked before it, and put right after it until the hand-in. */
export default function WhoIsHere({
  sitting,
  item,
  take,
  ticked,
  onChange,
}: {
  sitting: SittingView;
  item: Item;
  /** The recording that counts, where there is one that was made here. */
  take: TakeView | null;
  ticked: Ticked;
  onChange: (next: Ticked) => void;
}) {
  const { data, error, isLoading } = useCompanionsQuery(sitting.id);
  const [set, setting] = useSetCompanionsMutation();
  const refusal = refusalOf(setting.error);
  const takeId = take?.id ?? null;
  const said = take ? (take.together?.personIds ?? []).join() : null;
  const asList = (ids: string) => (ids === '' ? [] : ids.split(','));
  /** Told to the server; where it does not take it, what it says is ticked again. */
  const tell = (of: string, personIds: readonly string[]) =>
    void set({ sittingId: sitting.id, takeId: of, personIds: [...personIds] })
      .unwrap()
      .then(
        () => onChange({ ids: personIds, isUntold: false }),
        (why: unknown) => {
          // Without a network it is told once there is one, with the next look at this page.
          if (refusalOf(why)?.status !== 0 && said !== null) onChange({ ids: asList(said), isUntold: false });
        },
      );
  // What was ticked here becomes what the recording says, also where the server knows of that only now; what was put
  // right on another page becomes what is ticked.
  useEffect(() => {
    if (takeId === null || said === null || said === ticked.ids.join()) return;
    if (ticked.isUntold) tell(takeId, ticked.ids);
    else onChange({ ids: asList(said), isUntold: false });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when the recording, or what it says, is another
  }, [takeId, said]);
  const change = (ids: string[]) => {
    onChange({ ids, isUntold: true });
    if (takeId !== null) tell(takeId, ids);
  };
  if (isLoading) return <Loading height={64} />;
  if (!data)
    return (
      <Notice kind="offline">
        {t(
          'The names of the others cannot be had just now. Record all the same: you can tick who was with you until you hand in.',
        )}{' '}
        {error && t(refusalOf(error)?.message ?? '')}
      </Notice>
    );
  if (data.length === 0)
    return <p className="text-soft">{t('Nobody else is here whom this is for: you answer alone.')}</p>;
  return (
    <div className="grid grid-cols-1 gap-2 bg-sunk p-4">
      <People
        label={take ? t('Who is heard in this recording?') : t('Who is here with you?')}
        companions={data}
        chosen={ticked.ids}
        most={item.together!.most - 1}
        onChange={change}
      />
      <p>
        {ticked.ids.length === 0
          ? t('Nobody is ticked: it is your answer alone.')
          : t(
              'You answer as one: each of you has the recording, the result and the feedback once you hand in.',
            )}
      </p>
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
    </div>
  );
}
