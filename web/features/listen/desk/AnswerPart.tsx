import { lazyPart } from '../../../parts/lazyPart';
import { isRun } from '@ecoute/core/timing/strip';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { blankStimulus } from '@ecoute/contract/blank';
import type { Evidence } from '@ecoute/core/audio/evidence';
import type { Lane } from '@ecoute/contract/marking';
import { AnswerFile, isPlayable } from '../../../parts/AnswerFile';
import { JudgementView } from '../../../parts/JudgementView';
import { TurnAnswers } from '../../../parts/player/TurnAnswers';
import { StimulusView } from '../../../parts/stimuli/StimulusView';
import { aboutTake } from '../aboutTake';
import { trackOfLane } from '../useLaneFocus';

/** Seldom is an answer given together. */
const TogetherPart = lazyPart<{ lane: Lane }>(() =>
  import('../TogetherPart').then(m => ({ default: m.TogetherPart })),
);
const SpokenSheet = lazyPart(() => import('../../../parts/ink/SpokenSheet'));

/** Whether there is something in an answer to look at first: a film, a drawing, a conversation's turns, its student's own words. */
export function isSeen(lane: Lane, item: Item): boolean {
  return (
    (lane.takeId !== null && (!isPlayable(lane.medium) || lane.medium === 'video')) ||
    (lane.takeId !== null && (Boolean(item.sheet) || isRun(item))) ||
    lane.together !== undefined ||
    lane.pictureId !== null ||
    lane.title !== '' ||
    lane.note !== '' ||
    lane.judgement !== null ||
    lane.overallJudgement !== null
  );
}

/** Whether there is anything to say of an answer besides its sound and its writing. */
export function hasMore(lane: Lane, item: Item): boolean {
  return isSeen(lane, item) || aboutTake(lane, item.promptRecordingId !== null).length > 0;
}

/** What came with an answer: its turns, film, file, drawing and picture, its student's words on it and judgement of it. */
export function AnswerPart({
  lane,
  item,
  content,
  turns,
}: {
  lane: Lane;
  item: Item;
  content: AssessmentContent;
  /** What was said in each gap of a conversation, where it was measured. */
  turns: Evidence['turns'] | undefined;
}) {
  const name = lane.studentName;
  const track = trackOfLane(lane);
  const about = aboutTake(lane, item.promptRecordingId !== null);
  return (
    <div className="grid gap-3">
      {lane.together && <TogetherPart lane={lane} />}
      {track && isRun(item) && (
        <TurnAnswers item={item} track={track} placed={lane.placed} measured={turns} />
      )}
      {lane.takeId && item.sheet && <SpokenSheet takeId={lane.takeId} durationMs={lane.durationMs} />}
      {lane.takeId && (
        <AnswerFile takeId={lane.takeId} medium={lane.medium} fileName={lane.fileName} name={name} />
      )}
      {(lane.title || lane.note) && (
        <p dir="auto" className="border-s-4 border-petrol ps-3">
          <span className="font-semibold">{lane.title}</span>{' '}
          <span className="whitespace-pre-wrap">{lane.note}</span>
        </p>
      )}
      {lane.pictureId && (
        <StimulusView
          stimulus={blankStimulus(lane.pictureId, 'picture', {
            recordingId: lane.pictureId,
            words: lane.title || `Picture beside the take of ${name}`,
          })}
        />
      )}
      {about.length > 0 && <p className="text-sm text-soft">{about.join(' ')}</p>}
      {lane.judgement && (
        <JudgementView scoring={content.scoring} judgement={lane.judgement} title={`${name} says:`} />
      )}
      {lane.overallJudgement && (
        <JudgementView
          scoring={content.scoring}
          judgement={lane.overallJudgement}
          title={`${name} says of the whole:`}
        />
      )}
    </div>
  );
}
