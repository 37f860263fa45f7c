import { useCallback, useState, type ReactNode } from 'react';
import { refusalOf } from '../../base/api';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { Toasts } from '../../parts/Toasts';
import { useBringBackMutation, useTakeContributionBackMutation, type Door } from './endpoints';
import type { Spoken } from './said';

/**
 * Taking back what one said, and having it in again. What is refused stays said, and *Undo* stays, until somebody has read it.
 * @param says what became of it, in words
 * @returns `told` stands over the foot of the page
 */
export function useTakingBack(
  door: Door,
  releaseId: string,
  says: string,
): { take: (c: Pick<Spoken, 'id'>) => void; told: ReactNode } {
  const [takeBack, taking] = useTakeContributionBackMutation();
  const [bringBack, bringing] = useBringBackMutation();
  const [gone, setGone] = useState<string | null>(null);
  const take = useCallback(
    ({ id }: Pick<Spoken, 'id'>) =>
      void takeBack({ door, releaseId, id })
        .unwrap()
        .then(
          () => setGone(id),
          () => undefined,
        ),
    [door, releaseId, takeBack],
  );
  const undo = (id: string) =>
    void bringBack({ door, releaseId, id })
      .unwrap()
      .then(
        () => setGone(null),
        () => undefined,
      );
  const refusal = refusalOf(taking.error) ?? refusalOf(bringing.error);
  const close = () => {
    setGone(null);
    taking.reset();
    bringing.reset();
  };
  const good = (
    <Button look="quiet" onClick={close}>
      {t('Good')}
    </Button>
  );
  const told = (refusal || gone) && (
    <Toasts>
      {refusal && (
        <Notice kind="trouble" action={!gone && good}>
          {t(refusal.message)}
        </Notice>
      )}
      {gone && (
        <Notice
          action={
            <span className="flex gap-3">
              <Button disabled={bringing.isLoading} onClick={() => undo(gone)}>
                {t('Undo')}
              </Button>
              {good}
            </span>
          }
        >
          {says}
        </Notice>
      )}
    </Toasts>
  );
  return { take, told };
}
