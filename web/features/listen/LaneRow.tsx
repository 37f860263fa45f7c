import { PencilLine, Repeat2, SpellCheck } from 'lucide-react';
import { memo, useMemo, type ReactNode } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { answersIn } from '@ecoute/core/timing/conversation';
import { answerFromMs, beatsIn, sentBeats } from '@ecoute/core/timing/takeClock';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { Lane } from '@ecoute/contract/marking';
import type { MeasuredTake } from '@ecoute/contract/evidence';
import { isPlayable } from '../../parts/AnswerFile';
import { nth } from './sittingWords';
import { Flag, StateWord } from '../../parts/StateWord';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { playFrom, player, usePeaks, usePositionOf } from '../../parts/player/usePlayer';
import { Waveform } from '../../parts/player/Waveform';
import { useEvidence } from '../evidence/endpoints';
import { usePitchShown } from '../evidence/EvidencePanel';
import { PitchTrack } from '../evidence/PitchTrack';
import type { LaneInList } from './LaneList';
import { isAnswered } from './order';
import { useSmallScreen } from '../../parts/useSmallScreen';
import { shownLevel } from './WholeLevel';

/** What a lane's mark says in short, by the assessment's scheme. */
function scoreWords(content: AssessmentContent, item: Item, lane: Lane): string {
  const { mark } = lane;
  const level = content.scoring.kind === 'level' ? shownLevel(lane) : null;
  if (level !== null) return content.scoring.scale[level]?.name ?? '';
  if (!mark?.finished) return isAnswered(lane) ? '–' : '';
  if (mark.points === null) return 'finished';
  if (content.scoring.kind === 'done') return mark.points > 0 ? 'done' : 'not done';
  return `${pointsText(toHundredths(mark.points))} / ${pointsText(toHundredths(carriedBy(content, item)))}`;
}

/** The beats that ran along with a take, to be seen on its waveform: by its clicks where they are heard in it. */
function beatsOf({ placed, durationMs }: Lane, heardSec: readonly number[] | null) {
  if (!placed.clock?.beat) return undefined;
  if (!heardSec) return beatsIn(placed, 0, durationMs ?? 0);
  return sentBeats(placed, durationMs ?? 0).flatMap((beat, n) =>
    heardSec[n] === undefined ? [] : [{ ...beat, atMs: 1000 * heardSec[n] }],
  );
}

/** Heights of a waveform, in px. The pitch line takes its own from it, so that nothing under it moves when it comes. */
const CLOSED_PX = 40;
const OPEN_PX = 104;
const OPEN_SMALL_PX = 88;
const PITCH_PX = 56;

/** One recording, aligned with its neighbours at the start of the answer. The one in focus opens in place. */
export const LaneRow = memo(function LaneRow({
  lane,
  content,
  item,
  name,
  fullMs,
  focused,
  onFocus,
  index,
  count,
  measure,
  topPx,
  measured,
  children,
}: {
  lane: Lane;
  content: AssessmentContent;
  item: Item;
  name: string;
  fullMs: number;
  focused: boolean;
  onFocus: (lane: Lane) => void;
  /** What was measured of its take, as far as every lane shows it. */
  measured?: MeasuredTake;
  children?: ReactNode;
} & LaneInList) {
  const played = isPlayable(lane.medium);
  const peaks = usePeaks(played ? lane.takeId : null, lane.durationMs);
  const isSmall = useSmallScreen();
  const position = usePositionOf(lane.takeId);
  const found = useEvidence(focused && played ? lane.takeId : null, lane.durationMs);
  const evidence = found?.state === 'measured' ? found.evidence : null;
  const isPitchShown = usePitchShown(evidence);
  const isPitchDrawn = evidence !== null && isPitchShown;
  const openPx = isSmall ? OPEN_SMALL_PX : OPEN_PX;
  const heardSec = evidence?.heardBeatsSec ?? null;
  const beats = useMemo(() => beatsOf(lane, heardSec), [lane, heardSec]);
  const track =
    lane.takeId && played ? trackOf(lane.takeId, `${lane.studentName}`, 'student', lane.durationMs) : null;
  return (
    <li
      ref={measure}
      aria-posinset={index + 1}
      aria-setsize={count}
      data-index={index}
      style={topPx === undefined ? undefined : { top: topPx }}
      aria-current={focused || undefined}
      className={`scroll-mt-13 ${index > 0 ? 'sm:scroll-mt-30' : ''} bg-sheet ${focused ? `z-10 outline-3 outline-ink ${topPx === undefined ? 'relative' : ''}` : ''}`}
    >
      <div
        className="grid items-center grid-cols-[minmax(0,1fr)_auto] gap-x-4 gap-y-1 px-4 py-2 sm:grid-cols-[13rem_minmax(0,1fr)_6.5rem] max-sm:[&>:nth-child(2)]:order-last max-sm:[&>:nth-child(2)]:col-span-2"
        onClick={() => onFocus(lane)}
      >
        <div className="min-w-0">
          <button
            type="button"
            onClick={() => onFocus(lane)}
            className="block min-h-6 max-w-full truncate text-start font-semibold"
          >
            {name}
          </button>
          <StateWord
            state={lane.mark?.finished && lane.state === 'handedIn' ? 'marked' : lane.state}
            late={lane.late}
            askedAgain={lane.askedAgain}
            excused={lane.excused}
          />{' '}
          {lane.sittingNumber > 1 && <Flag icon={Repeat2} word={`${nth(lane.sittingNumber)} sitting`} />}
          {lane.marked.includes('record') && <Flag icon={SpellCheck} word="running record" />}
          {lane.marked.includes('drawing') && <Flag icon={PencilLine} word="drawn on" />}
          {lane.again && <Flag icon={Repeat2} word="recorded again" />}
        </div>
        {track && lane.takeId ? (
          <div className="flex items-center gap-3">
            <PlayButton track={track} label={name} />
            <div className="min-w-0 flex-1">
              <Waveform
                peaks={peaks}
                fullMs={fullMs}
                positionMs={position}
                voice="student"
                height={!focused ? CLOSED_PX : isPitchDrawn ? openPx - PITCH_PX : openPx}
                stretches={isRun(item) ? answersIn(item.turns, lane.placed) : undefined}
                beats={beats}
                notes={lane.notes}
                pauses={measured?.pauses}
                beginsMs={lane.placed.clock?.beat ? answerFromMs(lane.placed) : undefined}
                label={`Answer of ${name}`}
                onSeek={ms => {
                  player.load(track);
                  player.seek(ms);
                }}
              />
              {isPitchDrawn && (
                <PitchTrack
                  evidence={evidence!}
                  fullMs={fullMs}
                  height={PITCH_PX}
                  positionMs={position}
                  onPlay={ms => playFrom(track, ms)}
                />
              )}
            </div>
          </div>
        ) : lane.takeId ? (
          <p className="truncate">{lane.fileName ?? 'a file'}</p>
        ) : lane.written !== null ? (
          <p
            className={`font-passage ${focused ? 'max-h-28 overflow-y-auto whitespace-pre-wrap' : 'truncate'}`}
          >
            {lane.written}
          </p>
        ) : (
          <p className="text-soft">{lane.passed ? 'passed on this item' : 'no answer'}</p>
        )}
        <div className="text-end max-sm:flex max-sm:items-baseline max-sm:gap-3">
          <span className="tabular block text-lg">{scoreWords(content, item, lane)}</span>
          <span className="tabular text-sm text-soft">
            {lane.durationMs === null ? '' : clock(lane.durationMs)}
          </span>
        </div>
      </div>
      {focused && children}
    </li>
  );
});
