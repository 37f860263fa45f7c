import { Mic, Pause, Square } from 'lucide-react';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { Item, RecorderWords } from '@ecoute/contract/assessments';
import { serverNow } from '../../../base/clock';
import { useOnline } from '../../../base/useOnline';
import { Button } from '../../../parts/Button';
import type { FilmSource } from '../../../parts/recorder/camera';
import { LevelMeter } from '../../../parts/recorder/LevelMeter';
import type { Microphone } from '../../../parts/recorder/microphone';
import { Preview } from '../../../parts/recorder/Preview';
import { t } from '../../../base/i18n';
import { useTimeSaid } from '../stage/useTimeSaid';
import { BeatView } from './BeatView';
import { ClockFace, nearOf, TimeShape } from './ClockFace';
import { concernWords } from './concernWords';
import { useConcern } from './useConcern';
import { useEndTone } from './useEndTone';
import type { useItemRun } from './useItemRun';
import { WhoSpeaks } from './WhoSpeaks';

export type Run = ReturnType<typeof useItemRun>;
/** The recorder's words, which a teacher may have worded. */
export type Label = (name: keyof RecorderWords, usual: string) => string;

/** A glance at something else is not worth a word. */
const AWAY_TOLD_MS = 2_000;

/** While the microphone records: time left, level, stop, and pause where it is allowed. One slim bar. */
export function RecorderBar({
  item,
  run,
  microphone,
  film,
  label,
  upAtMs,
  endTone,
}: {
  item: Item;
  run: Run;
  microphone: Microphone;
  film: FilmSource | null;
  label: Label;
  /** When the time of the whole sitting is up; null where it has no limit. */
  upAtMs: number | null;
  /** A tone sounds when the time is nearly over. */
  endTone: boolean;
}) {
  const { state } = run;
  const online = useOnline();
  const paused = state.phase === 'paused';
  const conversation = isRun(item);
  const concern = useConcern(microphone, !paused && state.recordedMs > 0);
  // While it counts in, nothing of the answer's time has passed. The sitting's own end may come before the answer's.
  const ownMs = Math.min(item.answerLimitMs, state.remainingMs ?? 0);
  const leftMs = Math.max(0, Math.min(ownMs, upAtMs === null ? Infinity : upAtMs - serverNow()));
  const beat = run.take?.clock.beat ?? null;
  // The end of what is counted in is the beginning of the answer's time.
  const isCountedIn = beat !== null && !paused && (state.remainingMs ?? 0) > item.answerLimitMs;
  useTimeSaid(paused ? null : leftMs, t('Recording'));
  // In a conversation it would sound into what somebody says.
  useEndTone(endTone && !paused && !conversation, leftMs <= nearOf(item.answerLimitMs), microphone);
  return (
    <>
      <LevelMeter analyser={microphone.analyser} recording={!paused} slim />
      <p
        role="status"
        className={
          concern
            ? 'border-2 border-ink px-3 py-1 font-semibold low:px-2 low:text-xs low:leading-tight'
            : 'sr-only'
        }
      >
        {concern && concernWords(concern)}
      </p>
      {run.awayMs >= AWAY_TOLD_MS && (
        <p role="status" className="text-sm">
          {t(
            'This page was out of sight for {{time}}. Listen to your take afterwards: that part may be missing.',
            {
              time: clock(run.awayMs),
            },
          )}
        </p>
      )}
      {!online && <p className="text-sm">{t('No connection: it is kept on this device.')}</p>}
      {leftMs < ownMs && !paused && (
        <p className="text-sm">{t('The time of the whole sitting ends first.')}</p>
      )}
      {conversation && <WhoSpeaks item={item} positionMs={run.runPositionMs} />}
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        {film && (
          <Preview
            stream={film.stream}
            mirrored={item.answerBy === 'video'}
            label={t('What is filmed')}
            slim
          />
        )}
        <span className="flex items-center gap-2">
          <span
            aria-hidden
            className={`size-3.5 shrink-0 rounded-full ${paused ? 'border-2 border-edge' : 'bg-vermilion'}`}
          />
          <ClockFace
            leftMs={leftMs}
            limitMs={item.answerLimitMs}
            says={
              paused ? t('Paused') : isCountedIn ? t('Counting in …') : label('recording', t('Recording'))
            }
            short={beat !== null || film !== null}
            stands={paused}
            testId="time-left"
          />
        </span>
        {beat && (
          <span className="order-first flex w-full sm:order-none sm:w-auto sm:flex-1 low:order-first low:w-full low:flex-none">
            <BeatView beat={beat} positionMs={run.beatPositionMs} />
          </span>
        )}
        <span className="ms-auto flex min-w-0 flex-1 justify-end gap-2 sm:flex-none low:w-full low:flex-none low:flex-wrap">
          {item.pauseAllowed &&
            !conversation &&
            (paused ? (
              <Button className="min-h-14 px-3 leading-tight low:w-full" onClick={run.resume}>
                <Mic aria-hidden className="size-6" /> {label('goOn', t('Go on recording'))}
              </Button>
            ) : (
              <Button className="min-h-14 px-3 leading-tight low:w-full" onClick={run.pause}>
                <Pause aria-hidden className="size-6" /> {label('pause', t('Pause'))}
              </Button>
            ))}
          <Button
            look="record"
            className="min-h-14 flex-1 px-3 leading-tight sm:flex-none sm:px-8 low:w-full low:flex-none"
            disabled={!state.mayStop}
            onClick={() => void run.stop()}
          >
            <Square aria-hidden className="size-6 shrink-0 fill-current" />
            {conversation
              ? t('Break it off')
              : state.mayStop
                ? label('stop', t('I have finished: stop'))
                : t('Stop, from {{time}} on', { time: clock(item.shortestAnswerMs) })}
          </Button>
        </span>
      </div>
      <TimeShape leftMs={leftMs} limitMs={item.answerLimitMs} />
    </>
  );
}
