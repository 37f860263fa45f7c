import {
  ArrowLeft,
  ArrowRight,
  Check,
  Cookie,
  Ear,
  Lightbulb,
  Mic,
  Pause,
  RotateCcw,
  Square,
} from 'lucide-react';
import { useEffect, useRef } from 'react';
import { leftOf, phaseAt } from '@ecoute/core/timing/itemRun';
import type { SpokenWord } from '@ecoute/core/voice/spokenWords';
import type { Item } from '@ecoute/contract/assessments';
import { isTimed } from '@ecoute/contract/assessment/forStudents';
import type { SittingView } from '@ecoute/contract/sittings';
import { announce } from '../../../base/announce';
import { serverNow } from '../../../base/clock';
import { t } from '../../../base/i18n';
import { useMe } from '../../../base/useMe';
import { lazyPart } from '../../../parts/lazyPart';
import { player, usePlayed } from '../../../parts/player/usePlayer';
import { trackOf } from '../../../parts/player/PlayButton';
import { desk } from '../../../parts/recorder/delivery';
import type { Microphone } from '../../../parts/recorder/microphone';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { concernWords } from '../answers/concernWords';
import { ChildLeaving } from './ChildLeaving';
import { useConcern } from '../answers/useConcern';
import { useItemRun } from '../answers/useItemRun';
import { useSheet } from '../answers/useSheet';
import { useBegin, useVeil } from '../answers/useVeil';
import { useChooseTakeMutation } from '../endpoints';
import { useRehearsal } from '../rehearsal/rehearsal';
import { counting, takesOf, used, type OwnTake } from '../takes/takesOf';
import { useLocalUrl } from '../takes/useLocalUrl';
import type { Account } from '../useAccount';
import { ChildFrame, Shape } from './ChildFrame';
import { HearsYou } from './HearsYou';
import { Pictures } from './Pictures';
import { TimeRing } from './TimeRing';
import { useVoice } from './useVoice';
import type { Says } from './voice';

const SpokenSheet = lazyPart(() => import('../../../parts/ink/SpokenSheet'));

interface Props {
  sitting: SittingView;
  item: Item;
  number: number;
  account: Account;
  /** When the time of the whole sitting is up; null where it has no limit. */
  upAtMs: number | null;
  onNext: () => void;
  onBefore: (() => void) | null;
  /** Begins a break; null where there is none. */
  onBreak: (() => void) | null;
  onLeave: () => void;
}

/** What is asked in words, said: by the teacher, the device or the server. Nothing where a prompt sounds of its own. */
function asked(sitting: SittingView, item: Item): Says[] {
  const before: Says[] = item.wordsBefore?.voice ? [{ recordingId: item.wordsBefore.voice.recordingId }] : [];
  if (item.promptRecordingId) return before;
  if (item.readAloudVoice) return [...before, { recordingId: item.readAloudVoice.recordingId }];
  if (!item.promptText.trim()) return before;
  return [...before, { text: item.promptText, url: `/api/sittings/${sitting.id}/spoken/${item.id}` }];
}

/** What can be done beside the one thing. */
function Asides({ onBefore, onBreak }: Pick<Props, 'onBefore' | 'onBreak'>) {
  return (
    <>
      {onBreak && <Shape icon={Cookie} kind="plain" small label={t('Take a break')} onPress={onBreak} />}
      {onBefore && (
        <Shape icon={ArrowLeft} kind="plain" small label={t('The one before')} onPress={onBefore} />
      )}
    </>
  );
}

/** Something to look at or to hear; the arrow says that it was gone through. */
export function ChildMaterial({ sitting, item, number, account, onNext, onBefore, onBreak, onLeave }: Props) {
  const { studied } = phaseAt(item, account.ofItem(item.id), serverNow());
  const prompt: Says[] = item.promptRecordingId
    ? [...asked(sitting, item), { recordingId: item.promptRecordingId }]
    : asked(sitting, item);
  const voice = useVoice([...prompt, { word: 'look' }], item.id, sitting.content);
  return (
    <ChildFrame
      label={t('Item {{number}} of {{total}}', { number, total: sitting.content.items.length })}
      voice={voice}
      onLeave={onLeave}
      actions={
        <>
          <Asides onBefore={onBefore} onBreak={onBreak} />
          <Shape
            icon={ArrowRight}
            kind="go"
            label={t('I have gone through this')}
            calls={!voice.isSpeaking}
            onPress={() => {
              if (!studied) account.add('studied', item.id);
              onNext();
            }}
          />
        </>
      }
    >
      <Pictures stimuli={item.stimuli} />
      <p dir="auto" className="mt-4 max-w-2xl text-center text-soft">
        {item.promptText}
      </p>
    </ChildFrame>
  );
}

/** How a take of one's own is heard: from this device while the server does not have it. */
function useOwnSound(take: OwnTake): { hear: () => void; isPlaying: boolean } {
  const local = useLocalUrl(take);
  const isPlaying = usePlayed(state => state.playing && state.track?.id === take.id);
  const track = trackOf(take.id, t('Take {{number}}', { number: take.number }), 'student', take.durationMs);
  return { hear: () => void player.toggle(local ? { ...track, url: local } : track), isPlaying };
}

function HearOwn({ take, onPress }: { take: OwnTake; onPress: () => void }) {
  const { hear, isPlaying } = useOwnSound(take);
  return (
    <Shape
      icon={isPlaying ? Pause : Ear}
      kind="speak"
      small
      label={t('Hear yourself')}
      onPress={() => {
        onPress();
        hear();
      }}
    />
  );
}

/** One of several takes: heard when it is pressed, and it counts from then on. */
function TakeShape({ take, counts, onPress }: { take: OwnTake; counts: boolean; onPress: () => void }) {
  const { hear, isPlaying } = useOwnSound(take);
  return (
    <button
      type="button"
      aria-pressed={counts}
      aria-label={t('Take {{number}}', { number: take.number })}
      onClick={() => {
        onPress();
        hear();
      }}
      className={`relative grid size-32 place-items-center rounded-2xl border-4 ${
        counts ? 'border-petrol bg-petrol-wash' : 'border-edge bg-sheet'
      } ${isPlaying ? 'calling' : ''}`}
    >
      <Ear aria-hidden className="size-12" />
      <span aria-hidden className="flex gap-1">
        {Array.from({ length: Math.min(6, take.number) }, (_, n) => (
          <span key={n} className="size-3 rounded-full bg-ink" />
        ))}
      </span>
      {counts && (
        <span className="absolute -end-3 -top-3 grid size-10 place-items-center rounded-full bg-petrol-ink text-sheet">
          <Check aria-hidden className="size-6" />
        </span>
      )}
    </button>
  );
}

/** Hear, think, speak, stop, hear oneself, go on: one of them at a time. */
export function ChildAnswer({ microphone, ...props }: Props & { microphone: Microphone }) {
  const { sitting, item, number, account, upAtMs, onNext, onBefore, onBreak, onLeave } = props;
  const me = useMe();
  const rehearsal = useRehearsal();
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const run = useItemRun({ item, sittingId: sitting.id, personId: me.id, account, microphone });
  const veil = useVeil(sitting, item, account, true);
  const begin = useBegin(run, item, veil);
  const { state, take, starting } = run;
  const takes = takesOf(item.id, sitting, deliveries).filter(t => t.id !== take?.id);
  const standing = takes.filter(t => t.status !== 'refused' && t.status !== 'away');
  /** The one that counts, or will. */
  const shownTake = counting(standing) ?? standing.at(-1);
  const { used: spent } = used(takes, account.deviceFailed(item.id));
  const left = leftOf(item.takesAllowed, spent);
  const concern = useConcern(microphone, take !== null && state.phase !== 'paused' && state.recordedMs > 0);
  const isRecording = take !== null;
  const phase = isRecording ? 'record' : starting ? 'starting' : state.phase;
  const voiced = veil?.isVoiced ?? item.promptRecordingId !== null;
  const sheet = useSheet(item, run);
  const turn: SpokenWord = item.sheet ? 'draw' : sitting.subject === 'music' ? 'play' : 'speak';
  const nothingKept = phase === 'review' && standing.length === 0;

  const words = (): Says[] | null => {
    if (run.trouble || veil?.trouble) return [{ word: 'help' }];
    switch (phase) {
      case 'ready':
        if (voiced) return item.hearingsAllowed === 0 && !veil ? null : [{ word: 'listen' }];
        return [...(veil ? [] : asked(sitting, item)), { word: item.prepareMs > 0 || veil ? 'think' : turn }];
      case 'heard':
        return [{ word: item.prepareMs > 0 ? 'think' : turn }];
      case 'prepare':
        // Kept back until now: who cannot read it hears it, and then thinks.
        return isTimed(item) && !voiced ? asked(sitting, item) : null;
      case 'yourTurn':
        return [{ word: turn }];
      case 'review':
        if (nothingKept) return [{ word: 'notKept' }];
        if (standing.length > 1) return [{ word: 'whichCounts' }];
        return [{ word: left > 0 ? 'recordedAgain' : 'recorded' }];
      default:
        return null;
    }
  };
  const says = words();
  const voice = useVoice(
    says,
    `${item.id} ${phase} ${standing.length} ${run.trouble ?? ''}`,
    sitting.content,
  );

  // A prompt that may be heard as often as one likes sounds when it comes.
  const first = useRef(true);
  useEffect(() => {
    if (!first.current) return;
    first.current = false;
    if (phase === 'ready' && voiced && !veil && item.hearingsAllowed === 0) void run.hearPrompt();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when it comes up
  }, []);
  const isRead = says?.some(s => !('word' in s)) ?? false;
  useEffect(() => {
    if (isRead) account.add('readAloud', item.id);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each time that it is read
  }, [isRead]);
  useEffect(() => {
    if (phase === 'record') announce(t('Recording'));
    if (phase === 'review') announce(t('Recorded.'));
  }, [phase]);

  const quietly = (does: () => void) => () => {
    voice.stop();
    does();
  };
  const leftMs =
    phase === 'record' || phase === 'prepare'
      ? Math.max(0, Math.min(state.remainingMs ?? 0, upAtMs === null ? Infinity : upAtMs - serverNow()))
      : 0;
  const hear = voiced && state.hearingsLeft > 0 && (
    <Shape
      icon={Ear}
      kind="hear"
      small={phase !== 'ready'}
      calls={phase === 'ready'}
      label={phase === 'ready' ? t('Hear the prompt') : t('Hear the prompt again')}
      disabled={run.promptPlaying || veil?.isShowing}
      onPress={quietly(phase === 'ready' ? begin : () => void run.hearPrompt())}
    />
  );
  const speak = (
    <Shape
      icon={Mic}
      kind="speak"
      calls={!voice.isSpeaking}
      label={t('Answer now')}
      onPress={quietly(run.answerNow)}
    />
  );
  const think = (
    <Shape
      icon={Lightbulb}
      kind="go"
      calls={!voice.isSpeaking}
      label={t('Prepare')}
      disabled={veil?.isShowing}
      onPress={quietly(phase === 'ready' ? begin : () => run.beginPrepare())}
    />
  );
  const actions = () => {
    switch (phase) {
      case 'ready':
        if (voiced) return hear;
        return item.prepareMs > 0 ? think : speak;
      case 'heard':
        return (
          <>
            {hear}
            {item.prepareMs > 0 ? think : speak}
          </>
        );
      case 'prepare':
        return (
          <Shape icon={Mic} kind="speak" label={t('I am ready: answer now')} onPress={run.answerNow}>
            <TimeRing leftMs={leftMs} limitMs={item.prepareMs} />
          </Shape>
        );
      case 'yourTurn':
        return (
          <>
            {hear}
            {speak}
          </>
        );
      case 'record':
        return (
          <Shape
            icon={Square}
            kind="stop"
            label={t('I have finished: stop')}
            disabled={!state.mayStop}
            onPress={() => void run.stop()}
          >
            <TimeRing leftMs={leftMs} limitMs={item.answerLimitMs} />
          </Shape>
        );
      case 'review':
        return (
          <>
            {left > 0 && (
              <Shape
                icon={nothingKept ? Mic : RotateCcw}
                kind="speak"
                small={!nothingKept}
                calls={nothingKept}
                label={t('Record again')}
                onPress={quietly(run.answerNow)}
              />
            )}
            {standing.length === 1 && <HearOwn take={standing[0]!} onPress={voice.stop} />}
            <Shape
              icon={ArrowRight}
              kind={nothingKept && left > 0 ? 'plain' : 'go'}
              small={nothingKept && left > 0}
              calls={!voice.isSpeaking && !nothingKept}
              label={t('Go on')}
              onPress={quietly(() => {
                player.pause();
                onNext();
              })}
            />
          </>
        );
      default:
        return null;
    }
  };
  const isQuiet = ['prompt', 'prepare', 'record', 'starting'].includes(phase);
  const trouble = run.trouble ?? (veil?.trouble ? t(veil.trouble.message) : null);
  return (
    <ChildFrame
      label={t('Item {{number}} of {{total}}', { number, total: sitting.content.items.length })}
      voice={says === null ? null : voice}
      onLeave={isQuiet ? null : onLeave}
      step={phase}
      actions={
        <>
          {!isQuiet && <Asides onBefore={onBefore} onBreak={onBreak} />}
          {actions()}
        </>
      }
    >
      {isRecording && <ChildLeaving running="recording" />}
      {!isRecording && phase === 'prepare' && <ChildLeaving running="prepare" />}
      {phase === 'review' && standing.length > 1 ? (
        <ul className="flex flex-wrap justify-center gap-6">
          {standing.map(take => (
            <li key={take.id}>
              <TakeShape
                take={take}
                counts={take.id === counting(standing)?.id}
                onPress={() => {
                  voice.stop();
                  // Also while it is looked at: what was pressed counts once it stands.
                  if (!rehearsal && take.status !== 'refused')
                    void choose({ sittingId: sitting.id, takeId: take.id });
                }}
              />
            </li>
          ))}
        </ul>
      ) : (
        !veil && !sheet.board && !(item.sheet && shownTake) && <Pictures stimuli={item.stimuli} />
      )}
      {sheet.board && <div className="w-full max-w-4xl">{sheet.board}</div>}
      {!veil && !isQuiet && sheet.before}
      {item.sheet && phase === 'review' && shownTake && (
        <div className="mt-4 w-full max-w-xl">
          <SpokenSheet
            key={shownTake.id}
            takeId={shownTake.id}
            durationMs={shownTake.durationMs}
            local={desk.sheet(shownTake.id)}
            localOverUrl={sheet.overUrlOf(shownTake.id)}
          />
        </div>
      )}
      {phase === 'prompt' && (
        <Ear aria-hidden className="m-4 size-20 animate-[calls_1.2s_ease-in-out_infinite] text-saffron-ink" />
      )}
      {phase === 'record' && !sheet.board && (
        <HearsYou analyser={microphone.analyser} isRecording small={item.stimuli.length > 0} />
      )}
      {phase === 'review' && standing.length === 1 && item.stimuli.length === 0 && (
        <Check aria-hidden className="size-32 text-petrol-ink" />
      )}
      {concern && (
        <p role="status" className="mt-3 max-w-xl border-2 border-ink px-3 py-1 text-center font-semibold">
          {concernWords(concern)}
        </p>
      )}
      {trouble && <p className="mt-3 max-w-xl text-center">{trouble}</p>}
      {!isRecording && !veil && (
        <p dir="auto" className="mt-3 line-clamp-3 max-w-2xl text-center text-soft">
          {item.promptText}
        </p>
      )}
    </ChildFrame>
  );
}
