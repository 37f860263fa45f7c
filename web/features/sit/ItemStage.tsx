import { ArrowLeft, ArrowRight, Mic, Play, Square } from 'lucide-react';
import { takesLeft } from '@ecoute/core/timing/itemRun';
import { promptMs, stripOf } from '@ecoute/core/timing/strip';
import { clock, inWords } from '@ecoute/core/timing/words';
import type { SittingView } from '@ecoute/contract/sittings';
import { useMe } from '../../app/useMe';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { LevelMeter } from '../../parts/recorder/LevelMeter';
import type { Microphone } from '../../parts/recorder/microphone';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { Strip } from '../../parts/strip/Strip';
import { useChooseTakeMutation } from './endpoints';
import { TakeList } from './TakeList';
import { counting, takesOf, used } from './takesOf';
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

/** One item, from its prompt to its takes. One thing to do at a time, and it is named on the button. */
export function ItemStage({
  sitting,
  index,
  account,
  microphone,
  onMove,
  onReview,
}: {
  sitting: SittingView;
  index: number;
  account: Account;
  microphone: Microphone;
  onMove: (to: number) => void;
  onReview: () => void;
}) {
  const me = useMe();
  const { items } = sitting.content;
  const item = items[index]!;
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const run = useItemRun({ item, sittingId: sitting.id, personId: me.id, account, microphone });
  const { state, take } = run;
  const takes = takesOf(item.id, sitting, deliveries).filter(t => t.id !== take?.id);
  const left = takesLeft(item.takesAllowed, used(takes));
  const strip = stripOf(items);
  const startMs = strip.stretches.find(s => s.itemIndex === index)?.startMs ?? 0;
  const answered = new Set(
    items
      .filter(
        i =>
          counting(takesOf(i.id, sitting, deliveries)) ??
          takesOf(i.id, sitting, deliveries).some(t => t.local),
      )
      .map(i => i.id),
  );
  const busy = take !== null || run.starting || state.phase === 'prepare' || state.phase === 'prompt';
  const voiced = item.promptRecordingId !== null;
  const recording = take !== null;
  const last = index === items.length - 1;
  // An item whose recording left nothing behind (a crash in its first second) may be answered again.
  const nothingKept = state.phase === 'review' && takes.length === 0 && !recording;

  return (
    <div className="grid grid-cols-1 gap-5">
      <Strip
        items={items}
        current={item.id}
        answered={answered}
        positionMs={startMs + run.position(promptMs(item))}
        onChoose={busy ? undefined : id => onMove(items.findIndex(i => i.id === id))}
        label="Where you are"
      />
      <section
        aria-label={`Item ${index + 1} of ${items.length}`}
        className="grid gap-5 bg-sheet p-5 sm:p-8 lg:grid-cols-[minmax(0,1.2fr)_minmax(20rem,1fr)] lg:gap-10"
      >
        <div>
          <p className="text-sm text-soft">
            Item {index + 1} of {items.length}
            {item.points > 0 && ` · ${item.points} ${item.points === 1 ? 'point' : 'points'}`}
          </p>
          <p className="mt-2 font-passage text-xl leading-relaxed whitespace-pre-wrap sm:text-2xl">
            {item.promptText || 'Listen to the prompt.'}
          </p>
          {voiced &&
            (state.phase === 'heard' || state.phase === 'review' || state.phase === 'yourTurn') &&
            !recording && (
              <Button className="mt-4" onClick={() => void run.hearPrompt()} disabled={run.promptPlaying}>
                <Play aria-hidden className="size-5" /> Hear the prompt again
              </Button>
            )}
          <p className="mt-5 text-soft">
            {item.prepareMs > 0 && `${clock(item.prepareMs)} to prepare, then `}up to{' '}
            {clock(item.answerLimitMs)} to answer.{' '}
            {item.takesAllowed === 0
              ? 'As many takes as you like.'
              : item.takesAllowed === 1
                ? 'One take only.'
                : `${item.takesAllowed} takes.`}
          </p>
        </div>
        <div
          className={`grid content-start gap-4 ${busy ? 'max-lg:sticky max-lg:bottom-0 max-lg:-mx-5 max-lg:-mb-5 max-lg:border-t-2 max-lg:border-line max-lg:bg-sheet max-lg:p-4' : ''}`}
        >
          {run.trouble && <Notice kind="trouble">{run.trouble}</Notice>}
          {!recording &&
            state.phase === 'ready' &&
            (voiced ? (
              <Button look="main" big onClick={() => void run.hearPrompt()}>
                <Play aria-hidden className="size-6" /> Hear the prompt
              </Button>
            ) : item.prepareMs > 0 ? (
              <Button look="main" big onClick={run.beginPrepare}>
                I have read it: prepare {clock(item.prepareMs)}
              </Button>
            ) : (
              <Button look="main" big onClick={run.answerNow}>
                <Mic aria-hidden className="size-6" /> Answer now
              </Button>
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
              <Button look="main" big onClick={run.answerNow}>
                <Mic aria-hidden className="size-6" /> Answer now
              </Button>
            ))}
          {!recording && state.phase === 'prepare' && (
            <div className="grid grid-cols-1 gap-4">
              <p>
                <span className="block text-lg">Prepare. Recording begins by itself in</span>
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
          {!recording && !run.starting && state.phase === 'yourTurn' && (
            <Button look="main" big onClick={run.answerNow}>
              <Mic aria-hidden className="size-6" /> Answer now
            </Button>
          )}
          {recording && (
            <div className="grid gap-4 border-2 border-vermilion bg-vermilion-wash p-5">
              <p className="flex flex-wrap items-baseline justify-between gap-x-4">
                <span className="flex items-center gap-2 text-lg font-semibold">
                  <span aria-hidden className="size-3.5 rounded-full bg-vermilion" /> Recording
                </span>
                <span className="tabular text-5xl" data-testid="time-left">
                  {clock((state.remainingMs ?? 0) + 999)}
                </span>
              </p>
              <p className="tabular text-right text-sm">
                {clock(item.answerLimitMs - (state.remainingMs ?? 0))} of {clock(item.answerLimitMs)}
              </p>
              <Spoken remainingMs={state.remainingMs} what="Recording" />
              <LevelMeter analyser={microphone.analyser} recording />
              <Button look="record" big onClick={() => void run.stop()}>
                <Square aria-hidden className="size-6 fill-current" /> I have finished: stop
              </Button>
            </div>
          )}
          {!recording &&
            !run.starting &&
            (state.phase === 'review' || takes.length > 0) &&
            !['prepare', 'prompt'].includes(state.phase) && (
              <div className="grid grid-cols-1 gap-4">
                {nothingKept && (
                  <Notice kind="trouble">Nothing was kept of this recording. You may answer again.</Notice>
                )}
                <TakeList takes={takes} onChoose={id => void choose({ sittingId: sitting.id, takeId: id })} />
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
        </div>
      </section>
      <div className="flex flex-wrap justify-between gap-3">
        {index === 0 ? (
          <span />
        ) : (
          <Button disabled={busy} onClick={() => onMove(index - 1)}>
            <ArrowLeft aria-hidden className="size-5" /> Item {index}
          </Button>
        )}
        {last ? (
          <Button look={state.phase === 'review' ? 'main' : 'plain'} disabled={busy} onClick={onReview}>
            To the hand-in <ArrowRight aria-hidden className="size-5" />
          </Button>
        ) : (
          <Button
            look={state.phase === 'review' ? 'main' : 'plain'}
            disabled={busy}
            onClick={() => onMove(index + 1)}
          >
            Item {index + 2} <ArrowRight aria-hidden className="size-5" />
          </Button>
        )}
      </div>
      <p className="text-sm text-soft">
        The whole sitting lasts {inWords(strip.lengthMs)}. You can leave between items; what is recorded
        stays.
      </p>
    </div>
  );
}
