import type { RefObject } from 'react';
import type { Decision } from '@ecoute/contract/decisions';
import type { Item } from '@ecoute/contract/assessments';
import type { Lane, ListenView, FeedbackResult } from '@ecoute/contract/marking';
import { isPlayable } from '../../parts/AnswerFile';
import { Button } from '../../parts/Button';
import { when } from '../../parts/when';
import { BesideLane, type BesideHandle } from './BesideLane';
import { DecisionMenu } from './DecisionMenu';
import { useCallOffFeedbackMutation, useGiveFeedbackMutation } from './endpoints';
import { LaneExchange } from './LaneExchange';
import { LaneNotes, type LaneNotesHandle } from './LaneNotes';
import { LaneMarkups } from './markup/LaneMarkups';
import { OpenLane, type OpenLaneHandle } from './OpenLane';
import { isAnswered, laneKey } from './order';
import type { LaneFocus } from './useLaneFocus';
import type { useUnsent } from './useUnsent';

/** What the keys of the page reach in the lane in focus. */
export interface LaneHandles {
  marking: RefObject<OpenLaneHandle | null>;
  notes: RefObject<LaneNotesHandle | null>;
  beside: RefObject<BesideHandle | null>;
}

/** What the lane in focus opens with, under its row: notes, markups, marking, comparing, talking. */
export function FocusedLane({
  view,
  lane,
  item,
  focus,
  isReady,
  handles,
  unsent,
  onSpoken,
  onDecided,
  onGiven,
}: {
  view: ListenView;
  lane: Lane;
  item: Item;
  focus: LaneFocus;
  /** Its sitting could have its feedback now. */
  isReady: boolean;
  handles: LaneHandles;
  unsent: ReturnType<typeof useUnsent>;
  onSpoken: () => void;
  onDecided: (decision: Decision) => void;
  onGiven: (result: FeedbackResult) => void;
}) {
  const { releaseId } = view;
  const key = laneKey(lane);
  const [giveFeedback, giving] = useGiveFeedbackMutation();
  const [callOff] = useCallOffFeedbackMutation();
  const sittingIds = [lane.sittingId];
  const heard = lane.takeId !== null && isPlayable(lane.medium) ? lane.takeId : null;
  const isMarkable = isAnswered(lane) && lane.state !== 'underWay' && !lane.askedAgain;
  const menu = (
    <DecisionMenu releaseId={releaseId} lane={lane} items={view.content.items} onMade={onDecided} />
  );
  const feedback = lane.feedbackComesAt ? (
    <Button onClick={() => void callOff({ releaseId, sittingIds })}>
      Feedback {when(lane.feedbackComesAt)}: call it off
    </Button>
  ) : (
    isReady && (
      <Button
        disabled={giving.isLoading}
        onClick={() =>
          void giveFeedback({ releaseId, sittingIds })
            .unwrap()
            .then(onGiven, () => undefined)
        }
      >
        Give feedback to {view.namesHidden ? lane.studentName : lane.studentName.split(' ')[0]}
      </Button>
    )
  );
  return (
    <>
      {heard && (
        <LaneNotes
          key={`notes ${heard}`}
          releaseId={releaseId}
          lane={lane}
          takeId={heard}
          handle={handles.notes}
          onSpoken={onSpoken}
        />
      )}
      {isAnswered(lane) && <LaneMarkups key={`markups ${key}`} lane={lane} item={item} />}
      {isMarkable ? (
        <OpenLane
          key={key}
          releaseId={releaseId}
          content={view.content}
          lane={lane}
          lanes={view.lanes.filter(l => l.sittingId === lane.sittingId)}
          item={item}
          onFinished={(marking, sent) => {
            focus.toNextWaiting();
            unsent.watch(lane, marking, sent);
          }}
          handle={handles.marking}
          onPin={(words, commentId) => handles.notes.current?.pin(words, commentId) ?? Promise.resolve(false)}
          extra={
            <>
              {feedback}
              {menu}
            </>
          }
        />
      ) : (
        <div className="flex items-center gap-3 border-t border-line px-4 py-2 text-soft">
          {lane.state === 'underWay'
            ? 'Still under way: notes can be made now, and shown at once from here; it is scored once it is handed in.'
            : lane.askedAgain
              ? 'To record again: it waits for its student. Notes can still be made.'
              : ''}
          <span className="ms-auto">{menu}</span>
        </div>
      )}
      {heard && <BesideLane key={`beside ${key}`} lane={lane} handle={handles.beside} />}
      {isMarkable && <LaneExchange key={`exchange ${key}`} releaseId={releaseId} lane={lane} />}
    </>
  );
}
