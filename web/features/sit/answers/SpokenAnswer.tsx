import { Mic, Music, Play } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';
import { leftOf } from '@ecoute/core/timing/itemRun';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { announce } from '../../../base/announce';
import { useMe } from '../../../base/useMe';
import { Button } from '../../../parts/Button';
import { ModelAnswer } from '../../../parts/ModelAnswer';
import { Notice } from '../../../parts/Notice';
import type { FilmSource } from '../../../parts/recorder/camera';
import { usePlayer } from '../../../parts/player/usePlayer';
import type { Microphone } from '../../../parts/recorder/microphone';
import { Preview } from '../../../parts/recorder/Preview';
import { lazyPart } from '../../../parts/lazyPart';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';
import { useChooseTakeMutation } from '../endpoints';
import { BeforeBar } from './BeforeBar';
import type { Frame, Veil } from './frame';
import { beginsWith } from './itemWords';
import { LeavingAsks } from './LeavingAsks';
import { OtherWays } from './OtherWays';
import { RecorderBar, type Label } from './RecorderBar';
import { RoomNotices } from './RoomNotices';
import { useIsPhone } from '../device/device';
import { useRehearsal } from '../rehearsal/rehearsal';
import { TakeList } from '../takes/TakeList';
import { counting, takesOf, used } from '../takes/takesOf';
import { useCompanions } from '../together/useCompanions';
import type { Account } from '../useAccount';
import { recorderLabel } from './recorderLabel';
import { soundsAlong } from './soundsAlong';
import { useBegin } from './useVeil';
import { useItemRun } from './useItemRun';
import { useSheet } from './useSheet';
import { t } from '../../../base/i18n';

const TrySounds = lazyPart(() => import('./TrySounds'));
const WhoIsHere = lazyPart(() => import('../together/WhoIsHere'));
const NotThere = lazyPart<{ sitting: SittingView; itemId?: string }>(() => import('../together/NotThere'));
const PracticeTools = lazyPart(() => import('../../../parts/practice/PracticeTools'));

/** What goes on, for somebody who cannot see it. */
function saysOf(phase: string, item: Item): string {
  switch (phase) {
    case 'prompt':
      return t('The prompt is sounding. Listen …');
    case 'heard':
      return t('The prompt is over.');
    case 'prepare':
      return `${t('Preparing')}: ${clock(item.prepareMs)}`;
    case 'yourTurn':
      return t('It is your turn.');
    case 'record':
      return t('Recording');
    case 'paused':
      return t('Paused');
    case 'review':
      return t('Recorded.');
    default:
      return t('What to do now');
  }
}

/** Announces each phase once, when it begins. Nothing is said over a prompt that sounds, or before one has begun. */
function useSaid(phase: string, says: string, endedByClock: boolean): void {
  const before = useRef(phase);
  useEffect(() => {
    if (before.current === phase) return;
    before.current = phase;
    if (phase === 'review' && endedByClock)
      announce(t('The time of your answer was over. Everything until then is kept.'));
    else if (['heard', 'prepare', 'yourTurn', 'record', 'paused', 'review'].includes(phase)) announce(says);
  }, [endedByClock, phase, says]);
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
  upAtMs,
  veil,
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
  /** When the time of the whole sitting is up; null where it has no limit. */
  upAtMs: number | null;
  veil: Veil | null;
  /** Camera or screen, where the answer is seen as well. */
  film?: FilmSource | null;
}): ReactNode {
  const me = useMe();
  const rehearsal = useRehearsal();
  const isPhone = useIsPhone();
  const deliveries = useDeliveries();
  const [choose] = useChooseTakeMutation();
  const asks = item.together?.way === 'oneDevice' && !rehearsal && !isPhone;
  const [companions, setCompanions] = useCompanions(asks ? sitting.id : null, item.id);
  const run = useItemRun({
    item,
    sittingId: sitting.id,
    personId: me.id,
    account,
    microphone,
    film,
    withIds: companions.ids,
  });
  const sheet = useSheet(item, run);
  const practises = sitting.content.evidenceOpens === 'atOnce';
  const label: Label = (name, usual) => recorderLabel(sitting.content, name, usual);
  const { state, take } = run;
  const takes = takesOf(item.id, sitting, deliveries).filter(t => t.id !== take?.id);
  const { used: spent, isGivenBack } = used(takes, account.deviceFailed(item.id));
  const left = leftOf(item.takesAllowed, spent);
  const begin = useBegin(run, item, veil);
  const heardOwn = usePlayer();
  const hears = heardOwn.playing && takes.some(t => t.id === heardOwn.track?.id);
  useEffect(() => {
    if (hears) onHeard();
  }, [hears, onHeard]);
  const { starting } = run;
  const busy = take !== null || starting || state.phase === 'prepare' || state.phase === 'prompt';
  const voiced = item.promptRecordingId !== null;
  const recording = take !== null;
  // An item whose recording left nothing behind (a crash in its first second) may be answered again.
  const nothingKept = state.phase === 'review' && takes.length === 0 && !recording;
  const hearings = Number.isFinite(state.hearingsLeft)
    ? ` (${t('{{count}} hearings left', { count: state.hearingsLeft })})`
    : '';
  const phase = recording
    ? state.phase === 'paused'
      ? 'paused'
      : 'record'
    : starting
      ? 'starting'
      : state.phase;
  const isBefore = !recording && state.phase !== 'review' && !state.passed;
  const isReview = !recording && !starting && state.phase === 'review';
  const says = saysOf(phase, item);
  useSaid(phase, says, run.endedByClock);

  return frame({
    phase,
    says,
    busy,
    isRecording: recording,
    done: isReview && takes.some(t => t.status !== 'refused'),
    position: run.position(promptLengthMs),
    board: sheet.board,
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
    bar: recording ? (
      <RecorderBar
        item={item}
        run={run}
        microphone={microphone}
        film={film}
        label={label}
        upAtMs={upAtMs}
        endTone={sitting.content.endTone ?? false}
      />
    ) : isBefore || starting ? (
      <BeforeBar item={item} run={run} label={label} veil={veil} onBegin={begin} />
    ) : isReview && left > 0 ? (
      <Button className="min-h-14 flex-1 px-3 leading-tight sm:flex-none" onClick={run.answerNow}>
        <Mic aria-hidden className="size-5 shrink-0" />
        {takes.length === 0
          ? label('answer', t('Answer now'))
          : `${label('again', t('Record again'))}${Number.isFinite(left) ? ` (${t('{{count}} takes left', { count: left })})` : ''}`}
      </Button>
    ) : null,
    answer: (
      <>
        {film && !recording && (
          <Preview stream={film.stream} mirrored={item.answerBy === 'video'} label={t('What is filmed')} />
        )}
        {veil?.trouble && (
          <Notice kind="trouble">
            {t(veil.trouble.message)} {t('Nothing of your time has passed.')}
          </Notice>
        )}
        {!veil && sheet.before}
        {run.trouble && <Notice kind="trouble">{run.trouble}</Notice>}
        {run.cut && !recording && (
          <Notice>
            {t('The recording ended when this page was left. What was recorded until then is kept.')}{' '}
            {left > 0
              ? t('You may record again.')
              : t('If that is not your whole answer, tell your teacher: they can ask you to record again.')}
          </Notice>
        )}
        {isReview && run.endedByClock && (
          <p>{t('The time of your answer was over. Everything until then is kept.')}</p>
        )}
        {recording && <LeavingAsks running="recording" />}
        {!recording && state.phase === 'prepare' && <LeavingAsks running="prepare" />}
        {!recording && <RoomNotices item={item} withFilm={film !== null} bytesLeft={sitting.roomLeftBytes} />}
        {asks && !busy && (
          <WhoIsHere
            sitting={sitting}
            item={item}
            take={
              sitting.takes.find(own => own.id === counting(takes)?.id && (own.together?.isLead ?? true)) ??
              null
            }
            ticked={companions}
            onChange={setCompanions}
          />
        )}
        {item.together && !busy && !rehearsal && !isPhone && <NotThere sitting={sitting} itemId={item.id} />}
        {!recording && !veil && (
          <ModelAnswer item={item} number={1 + sitting.content.items.findIndex(i => i.id === item.id)} />
        )}
        {practises && !veil && (
          <PracticeTools
            item={item}
            subject={sitting.subject}
            microphone={microphone}
            isRecording={recording || starting}
          />
        )}
        {!recording && !starting && !veil && item.music?.startingNote != null && state.phase !== 'prompt' && (
          <Button onClick={run.giveNote}>
            <Music aria-hidden className="size-5" /> {t('Hear the starting note')}
          </Button>
        )}
        {!busy && !veil && item.music && soundsAlong(item) && (
          <TrySounds item={item} microphone={microphone} />
        )}
        {!recording &&
          !starting &&
          (isReview || takes.length > 0) &&
          !['prepare', 'prompt'].includes(phase) && (
            <div className="grid grid-cols-1 gap-4">
              {isGivenBack && Number.isFinite(left) && left > 0 && (
                <Notice>
                  {t(
                    'The microphone failed, so one take does not count: you may record once more. Your teacher sees that.',
                  )}
                </Notice>
              )}
              {nothingKept && (
                <Notice kind="trouble">
                  {t('Nothing was kept of this recording. You may answer again.')}
                </Notice>
              )}
              <TakeList
                takes={takes}
                shortestMs={item.shortestAnswerMs}
                isDrawn={Boolean(item.sheet)}
                overUrl={sheet.overUrlOf}
                mayHear={mayHear}
                measuredFor={practises && !rehearsal && !isPhone ? item : undefined}
                mayTrim={item.trimAllowed && !isRun(item) && !isPhone}
                sittingId={rehearsal || isPhone ? undefined : sitting.id}
                onChoose={
                  rehearsal || isPhone ? undefined : id => void choose({ sittingId: sitting.id, takeId: id })
                }
              />
              {takes.length > 0 && judging}
              {left > 0 && takes.length > 0 && (
                <p className="text-sm text-soft">
                  {takes.some(t => t.stands) && t('The earlier take is kept until you choose.')}{' '}
                  {beginsWith(item)}
                </p>
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
