import { Mic, Music, Pause, Play, Square } from 'lucide-react';
import { useEffect, useState, type ReactNode } from 'react';
import type { Concern } from '@ecoute/core/audio/takeWatch';
import { leftOf } from '@ecoute/core/timing/itemRun';
import { partAt, runOf } from '@ecoute/core/timing/conversation';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { Item, RecorderWords } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { useMe } from '../../../base/useMe';
import { Button } from '../../../parts/Button';
import { ModelAnswer } from '../../../parts/ModelAnswer';
import { Notice } from '../../../parts/Notice';
import type { FilmSource } from '../../../parts/recorder/camera';
import { LevelMeter } from '../../../parts/recorder/LevelMeter';
import { usePlayer } from '../../../parts/player/usePlayer';
import type { Microphone } from '../../../parts/recorder/microphone';
import { Preview } from '../../../parts/recorder/Preview';
import { lazyPart } from '../../../parts/lazyPart';
import { freeBytes, roomFor, type Room } from '../../../parts/recorder/room';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { BeatView } from './BeatView';
import { useChooseTakeMutation } from '../endpoints';
import type { Frame } from './frame';
import { useConcern } from './useConcern';
import { LeavingAsks } from './LeavingAsks';
import { OtherWays } from './OtherWays';
import { useIsPhone } from '../device/device';
import { useRehearsal } from '../rehearsal/rehearsal';
import { TakeList } from '../takes/TakeList';
import { takesOf, used } from '../takes/takesOf';
import type { Account } from '../useAccount';
import { recorderLabel } from './recorderLabel';
import { useItemRun } from './useItemRun';
import { t } from '../../../base/i18n';

const PracticeTools = lazyPart(() => import('../../../parts/practice/PracticeTools'));

/** Time left, said to a screen reader where it helps: at thirty and ten seconds, not every second. */
function Spoken({ remainingMs, what }: { remainingMs: number | null; what: string }) {
  const seconds = remainingMs === null ? null : Math.ceil(remainingMs / 1000);
  const text =
    seconds === null
      ? ''
      : seconds <= 10
        ? t('{{what}}: {{seconds}} seconds left', { what, seconds: 10 })
        : seconds <= 30
          ? t('{{what}}: {{seconds}} seconds left', { what, seconds: 30 })
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
      <p className="border-s-4 border-saffron bg-saffron-wash p-4 text-xl" aria-live="polite">
        {t('Listen …')}{' '}
        <span className="text-sm">
          {t('turn {{number}} of {{total}}', { number: (part?.index ?? turns - 1) + 1, total: turns })}
        </span>
      </p>
    );
  return (
    <div className="border-s-4 border-petrol bg-petrol-wash p-4">
      <p className="text-xl font-semibold" aria-live="polite">
        {t('Your turn: speak')}
      </p>
      <p>
        <span className="tabular text-4xl" data-testid="gap-left">
          {clock(part.endMs - (positionMs ?? 0) + 999)}
        </span>{' '}
        <span className="text-sm">
          {t('after turn {{number}} of {{total}}', { number: part.index + 1, total: turns })}
        </span>
      </p>
    </div>
  );
}

type Run = ReturnType<typeof useItemRun>;
/** The recorder's words, which a teacher may have worded. */
type Label = (name: keyof RecorderWords, usual: string) => string;

/** While the microphone records: time left and passed, level, stop, and pause where it is allowed. */
/** What a student should know of a recording that runs, in words. */
function concernWords(concern: Concern): string {
  switch (concern) {
    case 'nothing':
      return t(
        'Nothing is heard yet. If you are speaking or playing, the microphone may be muted, or another one is chosen.',
      );
    case 'muted':
      return t('The device has muted the microphone: what you say now is not recorded.');
    case 'clipped':
      return t('That is too loud and is distorted. Move a little away from the microphone.');
  }
}

function Recording({
  item,
  run,
  microphone,
  label,
}: {
  item: Item;
  run: Run;
  microphone: Microphone;
  label: Label;
}) {
  const { state } = run;
  const paused = state.phase === 'paused';
  const conversation = isRun(item);
  const concern = useConcern(microphone, !paused && state.recordedMs > 0);
  // While it counts in, nothing of the answer's time has passed.
  const leftMs = Math.min(item.answerLimitMs, state.remainingMs ?? 0);
  return (
    <div
      className={`grid gap-4 border-2 p-5 ${paused ? 'border-edge bg-sunk' : 'border-vermilion bg-vermilion-wash'}`}
    >
      <p className="flex flex-wrap items-baseline justify-between gap-x-4">
        <span className="flex items-center gap-2 text-lg font-semibold">
          {!paused && <span aria-hidden className="size-3.5 rounded-full bg-vermilion" />}
          {paused ? t('Paused') : label('recording', t('Recording'))}
        </span>
        <span className="tabular text-5xl" data-testid="time-left">
          {clock(leftMs + 999)}
        </span>
      </p>
      <p className="tabular text-end text-sm">
        {t('{{passed}} of {{limit}}', {
          passed: clock(item.answerLimitMs - leftMs),
          limit: clock(item.answerLimitMs),
        })}
      </p>
      <Spoken remainingMs={state.remainingMs} what={paused ? t('Paused') : t('Recording')} />
      {run.take?.clock.beat && <BeatView beat={run.take.clock.beat} positionMs={run.beatPositionMs} />}
      {conversation && <WhoSpeaks item={item} positionMs={run.runPositionMs()} />}
      <LevelMeter analyser={microphone.analyser} recording={!paused} />
      <p
        role="status"
        className={concern ? 'border-2 border-ink bg-sheet px-3 py-2 font-semibold' : 'sr-only'}
      >
        {concern && concernWords(concern)}
      </p>
      {item.pauseAllowed &&
        !conversation &&
        (paused ? (
          <Button big onClick={run.resume}>
            <Mic aria-hidden className="size-6" /> {label('goOn', t('Go on recording'))}
          </Button>
        ) : (
          <Button big onClick={run.pause}>
            <Pause aria-hidden className="size-6" /> {label('pause', t('Pause'))}
          </Button>
        ))}
      <Button look="record" big disabled={!state.mayStop} onClick={() => void run.stop()}>
        <Square aria-hidden className="size-6 fill-current" />
        {conversation
          ? t('Break it off')
          : state.mayStop
            ? label('stop', t('I have finished: stop'))
            : t('Stop, from {{time}} on', { time: clock(item.shortestAnswerMs) })}
      </Button>
    </div>
  );
}

/** Whether this device has room for an answer; null until it is known. */
function useRoom(lengthMs: number, withFilm: boolean): Room | null {
  const [room, setRoom] = useState<Room | null>(null);
  useEffect(() => {
    let current = true;
    void freeBytes().then(free => current && setRoom(roomFor(free, lengthMs, withFilm)));
    return () => {
      current = false;
    };
  }, [lengthMs, withFilm]);
  return room;
}

/** A word before the room that is kept for somebody is full: after that nothing more is taken. */
function RoomLeft({
  bytes,
  item,
  withFilm,
}: {
  bytes: number | null;
  item: Item;
  withFilm: boolean;
}): ReactNode {
  if (bytes === null) return null;
  if (bytes <= 0)
    return (
      <Notice kind="trouble">
        {t(
          'Your recordings fill the room that you have here. What you record now stays on this device until there is more: tell your teacher first.',
        )}
      </Notice>
    );
  // The one that is begun is still taken whole; the next would not be.
  if (roomFor(bytes, item.answerLimitMs, withFilm).enough) return null;
  return (
    <Notice>
      {t('There is room here for this answer, and hardly for another. Tell your teacher before you go on.')}
    </Notice>
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
  const isPhone = useIsPhone();
  const room = useRoom(item.answerLimitMs, film !== null);
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const run = useItemRun({ item, sittingId: sitting.id, personId: me.id, account, microphone, film });
  const practises = sitting.content.evidenceOpens === 'atOnce';
  const label: Label = (name, usual) => recorderLabel(sitting.content, name, usual);
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
    ? ` (${t('{{count}} hearings left', { count: state.hearingsLeft })})`
    : '';
  const answerNow = (
    <Button look="main" big onClick={run.answerNow}>
      <Mic aria-hidden className="size-6" />{' '}
      {label('answer', isRun(item) ? t('Begin the conversation') : t('Answer now'))}
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
          <Play aria-hidden className="size-5" /> {t('Hear the prompt again')}
          {hearings}
        </Button>
      ) : (
        <p className="mt-4 text-soft">{t('The prompt was heard as often as it may be.')}</p>
      )),
    answer: (
      <>
        {film && (
          <Preview stream={film.stream} mirrored={item.answerBy === 'video'} label={t('What is filmed')} />
        )}
        {run.trouble && <Notice kind="trouble">{run.trouble}</Notice>}
        {run.cut && !recording && (
          <Notice>
            {t('The recording ended when this page was left. What was recorded until then is kept.')}{' '}
            {left > 0
              ? t('You may record again.')
              : t('If that is not your whole answer, tell your teacher: they can ask you to record again.')}
          </Notice>
        )}
        {recording && <LeavingAsks />}
        {!recording && room && !room.enough && (
          <Notice kind="trouble">
            {t(
              'This device has room for about {{time}} of this answer only. Free some space first, or answer with your phone.',
              {
                time: clock(room.fitsMs),
              },
            )}
          </Notice>
        )}
        {!recording && <RoomLeft bytes={sitting.roomLeftBytes} item={item} withFilm={film !== null} />}
        {!recording && (
          <ModelAnswer item={item} number={1 + sitting.content.items.findIndex(i => i.id === item.id)} />
        )}
        {practises && (
          <PracticeTools
            item={item}
            subject={sitting.subject}
            microphone={microphone}
            isRecording={recording || run.starting}
          />
        )}
        {!recording && !run.starting && item.music?.startingNote != null && state.phase !== 'prompt' && (
          <Button onClick={run.giveNote}>
            <Music aria-hidden className="size-5" /> {t('Hear the starting note')}
          </Button>
        )}
        {!recording &&
          state.phase === 'ready' &&
          (voiced ? (
            <>
              <Button look="main" big onClick={() => void run.hearPrompt()}>
                <Play aria-hidden className="size-6" /> {label('hearPrompt', t('Hear the prompt'))}
              </Button>
              {item.hearingsAllowed > 0 && (
                <p>
                  {item.hearingsAllowed === 1
                    ? t('It can be heard once.')
                    : t('It can be heard {{number}} times.', { number: item.hearingsAllowed })}
                  {byItself &&
                    item.prepareMs === 0 &&
                    ` ${t('Your answer begins right after it, with a beep.')}`}
                </p>
              )}
            </>
          ) : item.prepareMs > 0 ? (
            <Button look="main" big onClick={() => run.beginPrepare()}>
              {t('I have read it: prepare {{time}}', { time: clock(item.prepareMs) })}
            </Button>
          ) : (
            answerNow
          ))}
        {!recording && state.phase === 'prompt' && (
          <p className="border-s-4 border-saffron ps-4 text-2xl">{t('The prompt is sounding. Listen …')}</p>
        )}
        {!recording &&
          state.phase === 'heard' &&
          (item.prepareMs > 0 ? (
            <Button look="main" big onClick={() => run.beginPrepare()}>
              {label('prepare', '')
                ? `${label('prepare', '')} ${clock(item.prepareMs)}`
                : t('Prepare {{time}}', { time: clock(item.prepareMs) })}
            </Button>
          ) : (
            answerNow
          ))}
        {!recording && state.phase === 'prepare' && (
          <div className="grid grid-cols-1 gap-4">
            <p>
              <span className="block text-lg">
                {byItself
                  ? t('Prepare. Recording begins automatically in')
                  : t('Prepare. Then it is your turn:')}
              </span>
              <span className="tabular block text-6xl" data-testid="prepare-left">
                {clock((state.remainingMs ?? 0) + 999)}
              </span>
            </p>
            <Spoken remainingMs={state.remainingMs} what={t('Preparing')} />
            <Button big onClick={run.answerNow}>
              <Mic aria-hidden className="size-6" /> {t('I am ready: answer now')}
            </Button>
          </div>
        )}
        {!recording && !run.starting && state.phase === 'yourTurn' && (
          <>
            {byItself && (
              <Notice>
                {t('Your time to prepare is over. Your answer begins when you press the button.')}
              </Notice>
            )}
            {answerNow}
          </>
        )}
        {recording && <Recording item={item} run={run} microphone={microphone} label={label} />}
        {!recording &&
          !run.starting &&
          (state.phase === 'review' || takes.length > 0) &&
          !['prepare', 'prompt'].includes(state.phase) && (
            <div className="grid grid-cols-1 gap-4">
              {nothingKept && (
                <Notice kind="trouble">
                  {t('Nothing was kept of this recording. You may answer again.')}
                </Notice>
              )}
              <TakeList
                takes={takes}
                shortestMs={item.shortestAnswerMs}
                mayHear={mayHear}
                measuredFor={practises && !rehearsal && !isPhone ? item : undefined}
                mayTrim={item.trimAllowed && !isRun(item) && !isPhone}
                sittingId={rehearsal || isPhone ? undefined : sitting.id}
                onChoose={
                  rehearsal || isPhone ? undefined : id => void choose({ sittingId: sitting.id, takeId: id })
                }
              />
              {takes.length > 0 && judging}
              {left > 0 && state.phase === 'review' && (
                <Button onClick={run.answerNow}>
                  <Mic aria-hidden className="size-5" />
                  {takes.length === 0
                    ? label('answer', t('Answer now'))
                    : `${label('again', t('Record again'))}${Number.isFinite(left) ? ` (${t('{{count}} takes left', { count: left })})` : ''}`}
                </Button>
              )}
              {left > 0 && takes.length > 0 && (
                <p className="text-sm text-soft">{t('The earlier take is kept until you choose.')}</p>
              )}
            </div>
          )}
        {!busy && !rehearsal && !isPhone && left > 0 && !state.passed && (
          <OtherWays sitting={sitting} item={item} account={account} />
        )}
      </>
    ),
  });
}
