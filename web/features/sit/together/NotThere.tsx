import { useState } from 'react';
import type { SittingView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../../base/api';
import { t } from '../../../base/i18n';
import { Button } from '../../../parts/Button';
import { Confirm } from '../../../parts/Confirm';
import { Notice } from '../../../parts/Notice';
import { useNotThereMutation } from './endpoints';

/** What others recorded with one, and the way to say that one was not there. */
export default function NotThere({ sitting, itemId }: { sitting: SittingView; itemId?: string }) {
  const [say, { error, isLoading }] = useNotThereMutation();
  const [asking, setAsking] = useState<string | null>(null);
  const refusal = refusalOf(error);
  const isOf = (of: { itemId: string }) => itemId === undefined || of.itemId === itemId;
  const withOthers = sitting.takes.filter(take => take.together && !take.together.isLead && isOf(take));
  const gone = sitting.notThere.filter(isOf);
  const asked = withOthers.find(take => take.together!.jointId === asking);
  return (
    <>
      {withOthers.map(take => (
        <Notice
          key={take.id}
          action={
            take.together!.way === 'oneDevice' && (
              <Button onClick={() => setAsking(take.together!.jointId)}>{t('I was not there …')}</Button>
            )
          }
        >
          {take.together!.way === 'oneDevice'
            ? t('{{name}} recorded this together with you: it is your answer as well.', {
                name: take.together!.leadName,
              })
            : t('Spoken in turns: it is the answer of all of you.')}
        </Notice>
      ))}
      {gone.map(of => (
        <Notice
          key={of.jointId}
          action={
            <Button disabled={isLoading} onClick={() => void say({ jointId: of.jointId, isGone: false })}>
              {t('I was there after all')}
            </Button>
          }
        >
          {t('{{name}} recorded something together with you, and you said that you were not there.', {
            name: of.by,
          })}
        </Notice>
      ))}
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      <Confirm
        open={asking !== null}
        onClose={() => setAsking(null)}
        title={t('Were you not there?')}
        yes={t('I was not there')}
        no={t('I was there')}
        onYes={() => asking && void say({ jointId: asking, isGone: true })}
      >
        <p>
          {t(
            'Then this recording is not yours, and what was handed in for you with it is open again. {{name}} keeps it, and your teacher sees what you said.',
            { name: asked?.together?.leadName ?? '' },
          )}
        </p>
      </Confirm>
    </>
  );
}
