import { Mic, Pause, Play, Square } from 'lucide-react';
import { useEffect, type ReactNode } from 'react';
import { leftOf } from '@ecoute/core/timing/itemRun';
import { partAt, runOf } from '@ecoute/core/timing/conversation';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { useMe } from '../../app/useMe';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import type { FilmSource } from '../../parts/recorder/camera';
import { LevelMeter } from '../../parts/recorder/LevelMeter';
import { usePlayer } from '../../parts/player/usePlayer';
import type { Microphone } from '../../parts/recorder/microphone';
import { Preview } from '../../parts/recorder/Preview';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { useChooseTakeMutation } from './endpoints';
import type { Frame } from './ItemStage';
import { useRehearsal } from './rehearsal';
import { TakeList } from './TakeList';
import { takesOf, used } from './takesOf';
import type { Account } from './useAccount';
import { useItemRun } from './useItemRun';

/** Time left, said to a screen reader where it helps: at thirty and ten seconds, not every second. */
function Spoken({ remainingMs, what }: { remainingMs: number | null; what: string }) {
  const seconds = remainingMs === null ? null : Math.ceil(remainingMs / 1000);
  const text =
    seconds === null
      ? ''
      : seconds <= 10
        ? `${what}: 10 seconds left`
        : seconds <= 30
          ? `${what}: 30 seconds left`
          : what;
  return (
    <p aria-live="polite" className="sr-only">
      {text}
    </p>
  );
}

/** In a conversation: who speaks now, and for how long. */
function WhoSpeaks({ item, positionMs }: { item: Item; positionMs: number | null }) {
  const run = runOf(item.turns);
  const part = partAt(run, Math.max(0, positionMs ?? 0));
  const turns = item.turns.length;
  if (!part || part.kind === 'turn')
    return (
      <p className="border-l-4 border-saffron bg-saffron-wash p-4 text-xl" aria-live="polite">
        Listen …{' '}
        <span className="text-sm">
          turn {(part?.index ?? turns - 1) + 1} of {turns}
        </span>
      </p>
    );
  return (
    <div className="border-l-4 border-petrol bg-petrol-wash p-4">
      <p className="text-xl font-semibold" aria-live="polite">
        Your turn: speak
      </p>
      <p>
        <span className="tabular text-4xl" data-testid="gap-left">
          {clock(part.endMs - (positionMs ?? 0) + 999)}
        </span>{' '}
        <span className="text-sm">
          after turn {part.index + 1} of {turns}
        </span>
      </p>
    </div>
  );
}

type Run = ReturnType<typeof useItemRun>;

/** While the microphone records: time left and passed, level, stop, and pause where it is allowed. */
function Recording({ item, run, microphone }: { item: Item; run: Run; microphone: Microphone }) {
  const { state } = run;
  const paused = state.phase === 'paused';
  const conversation = isRun(item);
  return (
    <div
      className={`grid gap-4 border-2 p-5 ${paused ? 'border-edge bg-sunk' : 'border-vermilion bg-vermilion-wash'}`}
    >
      <p className="flex flex-wrap items-baseline justify-between gap-x-4">
        <span className="flex items-center gap-2 text-lg font-semibold">
          {!paused && <span aria-hidden className="size-3.5 rounded-full bg-vermilion" />}
          {paused ? 'Paused' : 'Recording'}
        </span>
        <span className="tabular text-5xl" data-testid="time-left">
          {clock((state.remainingMs ?? 0) + 999)}
        </span>
      </p>
      <p className="tabular text-right text-sm">
        {clock(item.answerLimitMs - (state.remainingMs ?? 0))} of {clock(item.answerLimitMs)}
      </p>
      <Spoken remainingMs={state.remainingMs} what={paused ? 'Paused' : 'Recording'} />
      {conversation && <WhoSpeaks item={item} positionMs={run.runPositionMs()} />}
      <LevelMeter analyser={microphone.analyser} recording={!paused} />
      {item.pauseAllowed &&
        !conversation &&
        (paused ? (
          <Button big onClick={run.resume}>
            <Mic aria-hidden className="size-6" /> Go on recording
          </Button>
        ) : (
          <Button big onClick={run.pause}>
            <Pause aria-hidden className="size-6" /> Pause
          </Button>
        ))}
      <Button look="record" big disabled={!state.mayStop} onClick={() => void run.stop()}>
        <Square aria-hidden className="size-6 fill-current" />
        {conversation
          ? 'Break it off'
          : state.mayStop
            ? 'I have finished: stop'
            : `Stop, from ${clock(item.shortestAnswerMs)} on`}
      </Button>
    </div>
  );
}

/** The way to a spoken answer: hear, prepare, record, hear oneself, choose. */
export function SpokenAnswer({
  sitting,
  item,
  account,
  microphone,
  promptLengthMs,
  frame,
  judging,
  mayHear,
  onHeard,
  film = null,
}: {
  sitting: SittingView;
  item: Item;
  account: Account;
  microphone: Microphone;
  promptLengthMs: number;
  frame: Frame;
  /** What the student is asked of an own answer; null where nothing is. */
  judging: ReactNode;
  mayHear: boolean;
  onHeard: () => void;
  /** Camera or screen, where the answer is seen as well. */
  film?: FilmSource | null;
}): ReactNode {
  const me = useMe();
  const rehearsal = useRehearsal();
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const run = useItemRun({ item, sittingId: sitting.id, personId: me.id, account, microphone, film });
  const { state, take } = run;
  const takes = takesOf(item.id, sitting, deliveries).filter(t => t.id !== take?.id);
  const left = leftOf(item.takesAllowed, used(takes));
  const heardOwn = usePlayer();
  const hears = heardOwn.playing && takes.some(t => t.id === heardOwn.track?.id);
  useEffect(() => {
    if (hears) onHeard();
  }, [hears, onHeard]);
  const busy = take !== null || run.starting || state.phase === 'prepare' || state.phase === 'prompt';
  const voiced = item.promptRecordingId !== null;
  const recording = take !== null;
  const byItself = item.startsBy === 'itself';
  // An item whose recording left nothing behind (a crash in its first second) may be answered again.
  const nothingKept = state.phase === 'review' && takes.length === 0 && !recording;
  const hearings = Number.isFinite(state.hearingsLeft)
    ? ` (${state.hearingsLeft} ${state.hearingsLeft === 1 ? 'hearing' : 'hearings'} left)`
    : '';
  const answerNow = (
    <Button look="main" big onClick={run.answerNow}>
      <Mic aria-hidden className="size-6" /> {isRun(item) ? 'Begin the conversation' : 'Answer now'}
    </Button>
  );

  return frame({
    busy,
    done: state.phase === 'review',
    position: run.position(promptLengthMs),
    under:
      voiced &&
      (state.phase === 'heard' || state.phase === 'review' || state.phase === 'yourTurn') &&
      !recording &&
      (state.hearingsLeft > 0 ? (
        <Button className="mt-4" onClick={() => void run.hearPrompt()} disabled={run.promptPlaying}>
          <Play aria-hidden className="size-5" /> Hear the prompt again{hearings}
        </Button>
      ) : (
        <p className="mt-4 text-soft">The prompt was heard as often as it may be.</p>
      )),
    answer: (
      <>
        {film && <Preview stream={film.stream} mirrored={item.answerBy === 'video'} label="What is filmed" />}
        {run.trouble && <Notice kind="trouble">{run.trouble}</Notice>}
        {!recording &&
          state.phase === 'ready' &&
          (voiced ? (
            <>
              <Button look="main" big onClick={() => void run.hearPrompt()}>
                <Play aria-hidden className="size-6" /> Hear the prompt
              </Button>
              {item.hearingsAllowed > 0 && (
                <p>
                  It can be heard {item.hearingsAllowed === 1 ? 'once' : `${item.hearingsAllowed} times`}.
                  {byItself && item.prepareMs === 0 && ' Your answer begins right after it, with a beep.'}
                </p>
              )}
            </>
          ) : item.prepareMs > 0 ? (
            <Button look="main" big onClick={run.beginPrepare}>
              I have read it: prepare {clock(item.prepareMs)}
            </Button>
          ) : (
            answerNow
          ))}
        {!recording && state.phase === 'prompt' && (
          <p className="border-l-4 border-saffron pl-4 text-2xl">The prompt is sounding. Listen …</p>
        )}
        {!recording &&
          state.phase === 'heard' &&
          (item.prepareMs > 0 ? (
            <Button look="main" big onClick={run.beginPrepare}>
              Prepare {clock(item.prepareMs)}
            </Button>
          ) : (
            answerNow
          ))}
        {!recording && state.phase === 'prepare' && (
          <div className="grid grid-cols-1 gap-4">
            <p>
              <span className="block text-lg">
                {byItself ? 'Prepare. Recording begins by itself in' : 'Prepare. Then it is your turn:'}
              </span>
              <span className="tabular block text-6xl" data-testid="prepare-left">
                {clock((state.remainingMs ?? 0) + 999)}
              </span>
            </p>
            <Spoken remainingMs={state.remainingMs} what="Preparing" />
            <Button big onClick={run.answerNow}>
              <Mic aria-hidden className="size-6" /> I am ready: answer now
            </Button>
          </div>
        )}
        {!recording && !run.starting && state.phase === 'yourTurn' && answerNow}
        {recording && <Recording item={item} run={run} microphone={microphone} />}
        {!recording &&
          !run.starting &&
          (state.phase === 'review' || takes.length > 0) &&
          !['prepare', 'prompt'].includes(state.phase) && (
            <div className="grid grid-cols-1 gap-4">
              {nothingKept && (
                <Notice kind="trouble">Nothing was kept of this recording. You may answer again.</Notice>
              )}
              <TakeList
                takes={takes}
                shortestMs={item.shortestAnswerMs}
                mayHear={mayHear}
                onChoose={rehearsal ? undefined : id => void choose({ sittingId: sitting.id, takeId: id })}
              />
              {takes.length > 0 && judging}
              {left > 0 && state.phase === 'review' && (
                <Button onClick={run.answerNow}>
                  <Mic aria-hidden className="size-5" />
                  {takes.length === 0
                    ? 'Answer now'
                    : `Record again${Number.isFinite(left) ? ` (${left} ${left === 1 ? 'take' : 'takes'} left)` : ''}`}
                </Button>
              )}
              {left > 0 && takes.length > 0 && (
                <p className="text-sm text-soft">The earlier take is kept until you choose.</p>
              )}
            </div>
          )}
      </>
    ),
  });
}
