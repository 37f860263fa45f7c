import { Ear, House } from 'lucide-react';
import { useEffect, useRef, useState, type ComponentType, type ReactNode } from 'react';
import { t } from '../../../base/i18n';
import { useArrival } from '../stage/useArrival';
import { useBehind } from '../stage/useBehind';
import type { ChildVoice } from './useVoice';

/** So long after another thing has come up nothing under it can be pressed. */
const SETTLES_MS = 500;

type Kind = 'go' | 'hear' | 'speak' | 'stop' | 'plain';

/** What is the teacher's is saffron, what is the child's petrol; what records is vermilion; what leads on is ink. */
const KINDS: Record<Kind, string> = {
  go: 'border-ink bg-ink text-sheet',
  hear: 'border-saffron bg-saffron-wash text-saffron-ink',
  speak: 'border-petrol bg-petrol-wash text-petrol-ink',
  stop: 'border-vermilion bg-vermilion text-on-vermilion',
  plain: 'border-edge bg-sheet text-ink',
};

/** A shape to press. Its word is for whoever hears the screen. */
export function Shape({
  icon: Icon,
  label,
  kind,
  onPress,
  disabled = false,
  calls = false,
  small = false,
  children,
}: {
  icon: ComponentType<{ className?: string; 'aria-hidden'?: boolean }>;
  label: string;
  kind: Kind;
  onPress: () => void;
  disabled?: boolean;
  /** It is what comes next: it moves a little. */
  calls?: boolean;
  small?: boolean;
  children?: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      disabled={disabled}
      onClick={onPress}
      onKeyDown={event => {
        // A key that is held down presses once.
        if (event.repeat) event.preventDefault();
      }}
      className={`relative grid shrink-0 place-items-center rounded-full border-4 disabled:opacity-40 ${
        small ? 'size-16 low:size-14' : 'size-28 low:size-20 sm:size-32'
      } ${KINDS[kind]} ${calls ? 'calling' : ''}`}
    >
      <Icon aria-hidden className={small ? 'size-8' : 'size-14 low:size-10 sm:size-16'} />
      {children}
    </button>
  );
}

/**
 * One big thing, and under it what can be done with it. It fills the screen: nothing else is there to be pressed.
 */
export function ChildFrame({
  label,
  voice,
  onLeave,
  corner,
  step,
  actions,
  children,
}: {
  /** What this is, for whoever hears the screen. */
  label: string;
  /** What leads; null where it must be silent. */
  voice: ChildVoice | null;
  /** Home; null while something would end. */
  onLeave: (() => void) | null;
  /** What stands there where one cannot leave. */
  corner?: ReactNode;
  /** Another one of these is another thing to press: the focus goes there. */
  step?: string;
  actions: ReactNode;
  children: ReactNode;
}) {
  const heading = useArrival<HTMLHeadingElement>();
  useBehind(true);
  // The second tap of two was meant for what was there before: it must not begin, end or give away anything.
  const [settled, setSettled] = useState<string | undefined>('nothing yet');
  const isSettled = settled === step;
  useEffect(() => {
    const timer = setTimeout(() => setSettled(step), SETTLES_MS);
    return () => clearTimeout(timer);
  }, [step]);
  const bar = useRef<HTMLDivElement>(null);
  const was = useRef(step);
  useEffect(() => {
    if (was.current === step) return;
    was.current = step;
    // What comes next stands last; where there is nothing to press, one listens.
    const next = [...(bar.current?.querySelectorAll<HTMLElement>('button:not(:disabled)') ?? [])].at(-1);
    (next ?? heading.current)?.focus({ preventScroll: true });
  }, [heading, step]);
  return (
    <section
      aria-label={label}
      data-stage="on"
      className="fixed inset-0 z-40 grid grid-cols-1 grid-rows-[auto_minmax(0,1fr)_auto] bg-sheet low:grid-cols-[auto_minmax(0,1fr)_auto] low:grid-rows-1"
    >
      <div className="flex items-center justify-between gap-3 p-3 low:flex-col">
        {onLeave ? (
          <button
            type="button"
            aria-label={t('To the first page')}
            onClick={onLeave}
            className="grid size-14 shrink-0 place-items-center rounded-full border-2 border-edge"
          >
            <House aria-hidden className="size-7" />
          </button>
        ) : (
          (corner ?? <span className="size-14 shrink-0" />)
        )}
        <h2
          ref={heading}
          tabIndex={-1}
          className="min-w-0 truncate text-sm text-soft outline-none low:sr-only"
        >
          {label}
        </h2>
        {voice ? (
          <button
            type="button"
            aria-label={t('Hear it')}
            onClick={voice.isSpeaking ? voice.stop : voice.again}
            className={`relative grid size-14 shrink-0 place-items-center rounded-full border-4 border-saffron bg-saffron-wash text-saffron-ink ${voice.isSpeaking ? 'calling' : ''}`}
          >
            <Ear aria-hidden className="size-7" />
          </button>
        ) : (
          <span className="size-14 shrink-0" />
        )}
      </div>
      <div className="grid min-h-0 content-center justify-items-center overflow-y-auto px-4 py-2 [--stage-room:calc(100dvh-17rem)] low:[--stage-room:calc(100dvh-1rem)]">
        {children}
      </div>
      <div
        ref={bar}
        data-settled={isSettled}
        onClickCapture={event => {
          if (!isSettled) event.stopPropagation();
        }}
        className={`flex flex-wrap items-center justify-center gap-6 border-t border-line px-4 py-8 low:flex-col low:flex-nowrap low:overflow-y-auto low:border-s low:border-t-0 low:px-8 low:py-4 ${isSettled ? '' : 'pointer-events-none'}`}
      >
        {actions}
      </div>
    </section>
  );
}
