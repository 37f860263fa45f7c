import { useEffect, useState, useSyncExternalStore } from 'react';
import { Link } from 'react-router';
import { Button } from '../../../parts/Button';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { Notice } from '../../../parts/Notice';
import { when } from '../../../parts/when';
import { t } from '../../../base/i18n';
import { handInDesk } from './handInDesk';

/** What is heard within this time is not worth a word. */
const SHOWN_AFTER_MS = 1_500;

/** On its own sitting: it is wanted, and waits. */
export function Wanted({ sittingId, at, isComing }: { sittingId: string; at: string; isComing: boolean }) {
  const [isShown, setIsShown] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setIsShown(true), SHOWN_AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  if (!isShown) return null;
  return (
    <Notice
      kind={isComing ? 'note' : 'offline'}
      action={<Button onClick={() => handInDesk.takeBack(sittingId)}>{t('Not yet')}</Button>}
    >
      <p>
        {isComing
          ? t(
              'Not handed in yet: your recordings are still on their way. It is handed in as soon as they have arrived.',
            )
          : t('Not handed in yet: Ecoute does not answer. This device hands it in as soon as it does.')}
      </p>
      <p>
        {t(
          'What counts is that you wanted it {{when}}. You may close this page: it goes on when Ecoute is open on this device again.',
          { when: when(at) },
        )}
      </p>
    </Notice>
  );
}

/**
 * Hands in what this device owes its student, from any page; on every page but a sitting it is said what is still to be
 * handed in, what could not be, and what is.
 */
export function HandInsOfDevice({ isSilent }: { isSilent: boolean }) {
  const deliveries = useDeliveries();
  const arrived = deliveries.filter(d => d.state === 'delivered').length;
  useEffect(() => {
    handInDesk.belongTo(true);
    const nudge = () => handInDesk.nudge();
    window.addEventListener('online', nudge);
    return () => {
      window.removeEventListener('online', nudge);
      handInDesk.belongTo(false);
    };
  }, []);
  useEffect(() => handInDesk.nudge(), [arrived]);
  const { wishes, done } = useSyncExternalStore(handInDesk.subscribe, handInDesk.now);
  if (isSilent || (wishes.length === 0 && done.length === 0)) return null;
  const open = 'font-semibold underline underline-offset-4';
  return (
    <div className="mx-auto grid max-w-[1400px] gap-3 px-4 pt-4">
      {wishes.map(wish => (
        <Notice
          key={wish.sittingId}
          kind={wish.refusal ? 'trouble' : 'offline'}
          action={
            <Link to={`/sit/${wish.releaseId}`} className={open}>
              {t('Open it')}
            </Link>
          }
        >
          {wish.refusal ? (
            <>
              {t('“{{title}}” is not handed in.', { title: wish.title })} {t(wish.refusal.message)}
            </>
          ) : (
            t(
              '“{{title}}” is not handed in yet. This device hands it in as soon as Ecoute has everything of it.',
              {
                title: wish.title,
              },
            )
          )}
        </Notice>
      ))}
      {done.map(wish => (
        <Notice
          key={wish.sittingId}
          action={
            <Button look="quiet" onClick={() => handInDesk.seen()}>
              {t('Good')}
            </Button>
          }
        >
          {t('“{{title}}” is handed in.', { title: wish.title })}
        </Notice>
      ))}
    </div>
  );
}
