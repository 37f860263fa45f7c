import { ArrowLeft, ChevronDown, ChevronsDown, ChevronUp } from 'lucide-react';
import { useEffect, useMemo, useRef, useState, type MouseEvent, type ReactNode } from 'react';
import { Link } from 'react-router';
import { StageRoom } from '../../../parts/stimuli/stageRoom';
import { t } from '../../../base/i18n';
import { useArrival } from './useArrival';
import { useBehind } from './useBehind';
import { useFollowing } from './useFollowing';
import { useReadingSize } from './useReadingSize';
import { useTurning } from './useTurning';

const FOLLOWS_WORDS = () => [
  t('The text stands still'),
  t('The text goes along slowly'),
  t('The text goes along'),
  t('The text goes along quickly'),
];

/** @param does null where there is nothing (more) to do */
function HeadButton({
  label,
  does,
  children,
}: {
  label: string;
  does: (() => void) | null;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      disabled={!does}
      onClick={does ?? undefined}
      aria-label={label}
      className="grid size-11 shrink-0 place-items-center rounded-[3px] border-2 border-edge bg-sheet font-semibold disabled:opacity-40"
    >
      {children}
    </button>
  );
}

/** A tap on a score turns its page: the lower half forth, the upper half back. Buttons inside keep their own tap. */
function tapOf(event: MouseEvent<HTMLElement>): 1 | -1 | null {
  const { target, currentTarget } = event;
  if (!(target instanceof Element) || target.closest('button, a') || !target.closest('[data-score]'))
    return null;
  const { top, height } = currentTarget.getBoundingClientRect();
  return event.clientY - top > height / 2 ? 1 : -1;
}

/**
 * Where one item is answered: what one reads, looks at or plays from, and a slim bar under it. While something runs it
 * fills the screen and nothing else can be reached; before and after, it is a part of the page, so that nothing is
 * hidden.
 */
export function Stage({
  isOn,
  isRecording,
  isHeld = false,
  label,
  heading,
  clockFace,
  task,
  beside,
  besideFirst,
  leadsAway,
  bar,
  isArriving,
}: {
  isOn: boolean;
  isRecording: boolean;
  /** The recording is paused. */
  isHeld?: boolean;
  label: string;
  heading: ReactNode;
  /** The clock of a limited sitting, where one runs. */
  clockFace: ReactNode;
  task: ReactNode;
  /** Takes, notices, other ways; under the task on a narrow screen, beside it on a wide one. */
  beside: ReactNode;
  /** What stands beside comes first: the take that was just recorded. */
  besideFirst: boolean;
  /** There is another page to leave to. */
  leadsAway: boolean;
  bar: ReactNode;
  /** The focus comes here when it comes up. */
  isArriving: boolean;
}) {
  const place = useRef<HTMLDivElement>(null);
  const frame = useRef<HTMLElement>(null);
  const title = useArrival<HTMLHeadingElement>(isArriving);
  const { size, smaller, larger } = useReadingSize();
  const { isLong, before, after, turn } = useTurning(place, isOn);
  const [heightPx, setHeightPx] = useState<number | null>(null);
  const room = useMemo(() => (heightPx === null ? null : { heightPx, size }), [heightPx, size]);
  const following = useFollowing(place, isOn && isRecording && !isHeld);
  // A score is turned; a text may go along.
  const mayFollow = isLong && !place.current?.querySelector('[data-score]');
  useBehind(isOn);

  // What is read or played from begins at its beginning, and moves only when its reader moves it.
  useEffect(() => {
    if (isOn) place.current?.scrollTo({ top: 0 });
  }, [isOn, isRecording]);
  // What was recorded just now is in sight, wherever the page was before.
  const wasOn = useRef(isOn);
  useEffect(() => {
    if (wasOn.current && !isOn) frame.current?.scrollIntoView({ block: 'start' });
    wasOn.current = isOn;
  }, [isOn]);
  useEffect(() => {
    const scrolls = place.current;
    if (!isOn || !scrolls) return setHeightPx(null);
    const look = () => setHeightPx(scrolls.clientHeight);
    look();
    const sizes = new ResizeObserver(look);
    sizes.observe(scrolls);
    return () => sizes.disconnect();
  }, [isOn]);

  // In the order in which they are read; on a wide screen each keeps its side.
  const parts = [
    <div key="task" className="min-w-0 lg:order-1">
      {task}
    </div>,
    <div key="beside" className="grid min-w-0 grid-cols-1 content-start gap-4 lg:order-2">
      {beside}
    </div>,
  ];
  return (
    <section
      ref={frame}
      aria-label={label}
      data-stage={isOn ? 'on' : undefined}
      className={
        isOn
          ? 'fixed inset-0 z-40 grid grid-cols-1 grid-rows-[auto_minmax(0,1fr)_auto] bg-sheet low:grid-cols-[minmax(0,1fr)_12rem] low:grid-rows-[auto_minmax(0,1fr)]'
          : 'grid grid-cols-1 scroll-mt-4 bg-sheet'
      }
      style={{
        ['--reading' as string]: size,
        ...(room && { ['--stage-room' as string]: `${room.heightPx}px` }),
      }}
    >
      <div
        className={`flex items-center gap-3 px-4 sm:px-8 ${isOn ? 'border-b border-line low:col-start-2 low:row-start-1 low:justify-between low:border-s-4 low:px-2' : 'pt-4 sm:pt-6'}`}
      >
        {isOn && leadsAway && (
          <Link to="/" className="flex min-h-11 items-center gap-1 text-sm underline underline-offset-4">
            <ArrowLeft aria-hidden className="size-4 rtl:-scale-x-100" /> {t('Now')}
          </Link>
        )}
        <h2
          ref={title}
          tabIndex={-1}
          className={`min-w-0 flex-1 truncate text-sm text-soft ${isOn ? 'low:sr-only' : ''}`}
        >
          {heading}
        </h2>
        {isOn && clockFace}
        {isOn && (
          <span className="flex gap-1 low:hidden">
            <HeadButton label={t('Smaller')} does={smaller}>
              <span aria-hidden className="text-sm">
                A
              </span>
            </HeadButton>
            <HeadButton label={t('Larger')} does={larger}>
              <span aria-hidden className="text-xl">
                A
              </span>
            </HeadButton>
          </span>
        )}
        {isOn && mayFollow && (
          <button
            type="button"
            onClick={following.next}
            aria-label={FOLLOWS_WORDS()[following.step]}
            aria-pressed={following.step > 0}
            className="relative grid size-11 shrink-0 place-items-center rounded-[3px] border-2 border-edge bg-sheet aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-sheet"
          >
            <ChevronsDown aria-hidden className="size-6" />
            {following.step > 0 && (
              <span aria-hidden className="absolute end-0.5 bottom-0 text-xs font-semibold">
                {following.step}
              </span>
            )}
          </button>
        )}
        {isOn && isLong && (
          <span className="flex gap-1">
            <HeadButton label={t('Page before')} does={before ? () => turn(-1) : null}>
              <ChevronUp aria-hidden className="size-6" />
            </HeadButton>
            <HeadButton label={t('Next page')} does={after ? () => turn(1) : null}>
              <ChevronDown aria-hidden className="size-6" />
            </HeadButton>
          </span>
        )}
      </div>
      <StageRoom value={room}>
        <div
          ref={place}
          tabIndex={isOn && isLong ? 0 : undefined}
          role={isOn ? 'group' : undefined}
          aria-label={isOn ? t('What is asked') : undefined}
          className={
            isOn ? 'overflow-y-auto overscroll-contain low:col-start-1 low:row-span-2 low:row-start-1' : ''
          }
          onClick={event => {
            const by = isOn && isLong ? tapOf(event) : null;
            if (by) turn(by);
          }}
        >
          <div
            className={
              isOn
                ? 'mx-auto grid w-full max-w-6xl grid-cols-1 gap-4 px-4 py-3 sm:px-8'
                : 'grid grid-cols-1 gap-5 p-4 sm:p-8 sm:pt-4 lg:grid-cols-[minmax(0,1.2fr)_minmax(20rem,1fr)] lg:gap-10'
            }
          >
            {besideFirst ? parts.toReversed() : parts}
          </div>
        </div>
      </StageRoom>
      {bar}
    </section>
  );
}
