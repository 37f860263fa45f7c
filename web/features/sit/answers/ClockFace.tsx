import { clock } from '@ecoute/core/timing/words';
import { t } from '../../../base/i18n';

/** The last third of a limit in whole seconds, as a clock shows it, but no more than ten. */
export function nearOf(limitMs: number): number {
  return Math.min(10_000, 1_000 * Math.ceil(limitMs / 3_000));
}

/** Time that is left, as large as fits a slim bar; near its end it says so, in words and in black and white. */
export function ClockFace({
  leftMs,
  limitMs,
  says,
  testId,
  stands = false,
  short = false,
}: {
  leftMs: number;
  limitMs: number;
  /** What ends then. */
  says: string;
  testId: string;
  /** The clock does not run just now. */
  stands?: boolean;
  /** Without how much of how much, where there is more to see in the bar. */
  short?: boolean;
}) {
  const isNear = !stands && leftMs <= nearOf(limitMs);
  return (
    <span
      className={`grid min-w-0 leading-none ${isNear ? 'bg-ink px-2 py-1 text-sheet' : ''}`}
      data-near={isNear || undefined}
    >
      <span className="flex items-center gap-1.5 text-sm font-semibold">{isNear ? t('ends in') : says}</span>
      <span className="flex items-baseline gap-2">
        <span className="tabular text-3xl sm:text-4xl" data-testid={testId}>
          {clock(leftMs + 999)}
        </span>
        <span
          className={`tabular text-xs max-[24rem]:hidden ${short ? 'max-sm:hidden low:hidden' : ''} ${isNear ? '' : 'text-soft'}`}
        >
          {t('{{passed}} of {{limit}}', { passed: clock(limitMs - leftMs), limit: clock(limitMs) })}
        </span>
      </span>
    </span>
  );
}

/** The same as a shape that shrinks, for whoever reads no digits. */
export function TimeShape({ leftMs, limitMs }: { leftMs: number; limitMs: number }) {
  return (
    <div aria-hidden className="h-2 w-full bg-sunk">
      <div
        className="h-full origin-left bg-ink rtl:origin-right"
        style={{ transform: `scaleX(${Math.min(1, Math.max(0, leftMs / Math.max(1, limitMs)))})` }}
      />
    </div>
  );
}
