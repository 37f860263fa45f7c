import { Button } from '../../../parts/Button';
import { when } from '../../../parts/when';
import { t } from '../../../base/i18n';
import type { Held } from './useHold';

/** This sitting is open somewhere else: where, what is safe, and the way to go on here. */
export function HeldElsewhere({ held, onTakeOver }: { held: Held; onTakeOver: () => void }) {
  return (
    <section className="mx-auto grid w-full max-w-2xl grid-cols-1 gap-4 bg-sheet p-5 sm:p-8">
      <h2 className="text-2xl">{t('This sitting is open elsewhere')}</h2>
      <p>
        {held.state === 'otherDevice'
          ? t('It is open on another device, last seen {{when}}.', { when: when(held.seenAt) })
          : t('It is open in another tab or window of this browser.')}{' '}
        {t('What was recorded there is safe. Only one of them can record at a time.')}{' '}
        {t('If a recording runs there just now, it ends when you go on here; it is kept.')}
      </p>
      <Button look="main" big onClick={onTakeOver}>
        {t('Go on here')}
      </Button>
    </section>
  );
}
