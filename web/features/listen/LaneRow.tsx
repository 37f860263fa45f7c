import { lazyPart } from '../../parts/lazyPart';
import { memo, useMemo, type ReactNode } from 'react';
import { pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { answersIn } from '@ecoute/core/timing/conversation';
import { answerFromMs, beatsIn, sentBeats } from '@ecoute/core/timing/takeClock';
import { isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { carriedBy } from '@ecoute/contract/assessment/points';
import { blankStimulus } from '@ecoute/contract/blank';
import type { Lane } from '@ecoute/contract/marking';
import type { MeasuredTake } from '@ecoute/contract/evidence';
import { AnswerFile, isPlayable } from '../../parts/AnswerFile';
import { aboutTake } from './aboutTake';
import { JudgementView } from '../../parts/JudgementView';
import { Notice } from '../../parts/Notice';
import { StateWord } from '../../parts/StateWord';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { playFrom, player, usePeaks, usePositionOf } from '../../parts/player/usePlayer';
import { TurnAnswers } from '../../parts/player/TurnAnswers';
import { Waveform } from '../../parts/player/Waveform';
import { useEvidence } from '../evidence/endpoints';
import { usePitchShown } from '../evidence/EvidencePanel';
import { PitchTrack } from '../evidence/PitchTrack';
import { HowItWent } from './HowItWent';
import { StimulusView } from '../../parts/stimuli/StimulusView';
import type { LaneInList } from './LaneList';
import { isAnswered } from './order';
import { shownLevel } from './WholeLevel';

const SpokenSheet = lazyPart(() => import('../../parts/ink/SpokenSheet'));

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
  evidence: panel,
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
  /** Right under the waveform of the lane in focus. */
  evidence?: ReactNode;
  children?: ReactNode;
} & LaneInList) {
  const played = isPlayable(lane.medium);
  const peaks = usePeaks(played ? lane.takeId : null, lane.durationMs);
  const position = usePositionOf(lane.takeId);
  const found = useEvidence(focused && played ? lane.takeId : null, lane.durationMs);
  const evidence = found?.state === 'measured' ? found.evidence : null;
  const isPitchShown = usePitchShown(evidence);
  const about = aboutTake(lane, item.promptRecordingId !== null);
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
      className={`scroll-mt-56 scroll-mb-24 bg-sheet ${focused ? `z-10 outline-3 outline-ink ${topPx === undefined ? 'relative' : ''}` : ''}`}
    >
      <div
        className="grid items-center gap-x-4 gap-y-1 px-4 py-2 sm:grid-cols-[13rem_minmax(0,1fr)_6.5rem]"
        onClick={() => onFocus(lane)}
      >
        <div className="min-w-0">
          <button
            type="button"
            onClick={() => onFocus(lane)}
            className="block max-w-full truncate text-start font-semibold"
          >
            {name}
          </button>
          <StateWord state={lane.state} late={lane.late} askedAgain={lane.askedAgain} />
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
                height={focused ? 96 : 40}
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
              {evidence && isPitchShown && (
                <PitchTrack
                  evidence={evidence}
                  fullMs={fullMs}
                  positionMs={position}
                  onPlay={ms => playFrom(track, ms)}
                />
              )}
            </div>
          </div>
        ) : lane.takeId ? (
          <p className="truncate">{lane.fileName ?? 'a file'}</p>
        ) : lane.written !== null ? (
          <p className={`font-passage ${focused ? 'whitespace-pre-wrap' : 'truncate'}`}>{lane.written}</p>
        ) : (
          <p className="text-soft">{lane.passed ? 'passed on this item' : 'no answer'}</p>
        )}
        <div className="text-end">
          <span className="tabular block text-lg">{scoreWords(content, item, lane)}</span>
          <span className="tabular text-sm text-soft">
            {lane.durationMs === null ? '' : clock(lane.durationMs)}
          </span>
        </div>
      </div>
      {focused && track && isRun(item) && (
        <div className="px-4 pb-3">
          <TurnAnswers item={item} track={track} placed={lane.placed} measured={evidence?.turns} />
        </div>
      )}
      {focused && panel}
      {focused && lane.takeId && item.sheet && (
        <div className="px-4 pb-3 empty:hidden">
          <SpokenSheet takeId={lane.takeId} durationMs={lane.durationMs} />
        </div>
      )}
      {focused && lane.takeId && (
        <div className="px-4 pb-3 empty:hidden">
          <AnswerFile takeId={lane.takeId} medium={lane.medium} fileName={lane.fileName} name={name} />
        </div>
      )}
      {focused && (lane.title || lane.note || lane.pictureId || about.length > 0) && (
        <div className="grid gap-2 px-4 pb-3">
          {(lane.title || lane.note) && (
            <p dir="auto" className="border-s-4 border-petrol ps-3">
              <span className="font-semibold">{lane.title}</span>{' '}
              <span className="whitespace-pre-wrap">{lane.note}</span>
            </p>
          )}
          {lane.pictureId && (
            <div className="max-w-md">
              <StimulusView
                stimulus={blankStimulus(lane.pictureId, 'picture', {
                  recordingId: lane.pictureId,
                  words: lane.title || `Picture beside the take of ${name}`,
                })}
              />
            </div>
          )}
          {about.length > 0 && <p className="text-sm text-soft">{about.join(' ')}</p>}
        </div>
      )}
      {focused && lane.judgement && (
        <div className="px-4 pb-3">
          <JudgementView
            scoring={content.scoring}
            judgement={lane.judgement}
            title={`${lane.studentName} says:`}
          />
        </div>
      )}
      {focused && lane.overallJudgement && (
        <div className="px-4 pb-3">
          <JudgementView
            scoring={content.scoring}
            judgement={lane.overallJudgement}
            title={`${lane.studentName} says of the whole:`}
          />
        </div>
      )}
      {focused && (lane.cutShort || lane.lost || lane.saidMs !== null || lane.holes.length > 0) && (
        <div className="px-4 pb-2">
          <Notice>
            {lane.holes.length > 0 &&
              `The device recorded nothing ${lane.holes.map(h => `from ${clock(h.fromMs)} to ${clock(h.toMs)}`).join(', ')}: silence stands there. `}
            {lane.cutShort &&
              'This take counts as far as it came: the student’s device did not send the rest. '}
            {lane.lost &&
              'Something was recorded here that never came from the student’s device. They may record again. '}
            {lane.saidMs !== null &&
              `Ecoute first heard of this take after the end. The browser says that it began ${clock(lane.saidMs)} earlier; there is no other sign of it.`}
          </Notice>
        </div>
      )}
      {focused && lane.silent && (
        <p className="px-4 pb-2 font-semibold">Nothing can be heard in this recording.</p>
      )}
      {focused && children}
      {focused && <HowItWent sittingId={lane.sittingId} content={content} />}
    </li>
  );
});
