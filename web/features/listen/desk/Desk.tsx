import { Mic, MessageSquareText, PencilLine } from 'lucide-react';
import { type RefObject } from 'react';
import { isBack } from '@ecoute/core/timing/sittingState';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { Decision } from '@ecoute/contract/decisions';
import type { Item } from '@ecoute/contract/assessments';
import type { ReleaseEvidence } from '@ecoute/contract/evidence';
import type { Lane, ListenView } from '@ecoute/contract/marking';
import { isPlayable } from '../../../parts/AnswerFile';
import { Button } from '../../../parts/Button';
import { PromptWords } from '../../../parts/PromptWords';
import { RubricView } from '../../../parts/RubricView';
import { when } from '../../../parts/when';
import { useEvidence } from '../../evidence/endpoints';
import { BankFinder, type Found } from '../bank/BankFinder';
import { PraiseRow } from '../bank/PraiseRow';
import { BesideLane, type BesideHandle } from '../BesideLane';
import { DecisionMenu } from '../DecisionMenu';
import { useBesideQuery, useCallOffFeedbackMutation } from '../endpoints';
import { LaneEvidence } from '../LaneEvidence';
import { LaneExchange } from '../LaneExchange';
import { LaneNotes, type LaneNotesHandle } from '../LaneNotes';
import { waitsForReply } from '../laneFilters';
import { hasMarkups, LaneMarkups } from '../markup/LaneMarkups';
import type { Marking } from '../marking';
import { isAnswered, laneKey, totalWords } from '../order';
import { trackOfLane, type LaneFocus } from '../useLaneFocus';
import { WholeLevel, type LevelsHandle } from '../WholeLevel';
import { AnswerPart, hasMore, isSeen } from './AnswerPart';
import { Drawer, type Part } from './Drawer';
import { Marks, type MarksHandle } from './Marks';
import { Notices } from './Notices';
import { SittingPart } from './SittingPart';
import type { DrawerState } from './useDrawer';

/** Its key, where there are keys. */
function Key({ children }: { children: string }) {
  return <span className="pointer-coarse:hidden">({children})</span>;
}

/** What the keys of the page reach in the lane in focus. */
export interface DeskHandles {
  marks: RefObject<MarksHandle | null>;
  notes: RefObject<LaneNotesHandle | null>;
  beside: RefObject<BesideHandle | null>;
  levels: RefObject<LevelsHandle | null>;
}

/**
 * What the lane in focus opens with, under its waveform: score, comment and *Finish* on the one side, a drawer for all else on
 * the other. Its height is the window's, and not its content's, so that nothing on it moves while one listens.
 */
export function Desk({
  view,
  lane,
  item,
  focus,
  isReady,
  handles,
  drawer,
  givesLevel,
  released,
  onFinished,
  onSpoken,
  onDecided,
  onGive,
  onTakeBack,
  onKeepInBank,
}: {
  view: ListenView;
  lane: Lane;
  item: Item;
  focus: LaneFocus;
  /** Its sitting could have its feedback now. */
  isReady: boolean;
  handles: DeskHandles;
  drawer: DrawerState;
  /** The next digit gives the overall level. */
  givesLevel: boolean;
  /** What is measured of the release. */
  released: ReleaseEvidence | undefined;
  onFinished: (lane: Lane, marking: Marking, sent: Promise<boolean>, words: string) => void;
  onSpoken: () => void;
  onDecided: (decision: Decision) => void;
  /** Asks about giving feedback to its sitting. */
  onGive: (sittingId: string) => void;
  /** Takes feedback back that nobody has looked at. */
  onTakeBack: (sittingIds: string[]) => void;
  onKeepInBank: () => void;
}) {
  const { releaseId, content } = view;
  const key = laneKey(lane);
  const [callOff] = useCallOffFeedbackMutation();
  const sittingIds = [lane.sittingId];
  const heard = lane.takeId !== null && isPlayable(lane.medium) ? lane.takeId : null;
  const seen = isSeen(lane, item);
  // Also what was passed on or left out: it can have a comment, and a placement its level.
  const isMarkable = lane.state !== 'underWay' && !lane.askedAgain;
  const beside = useBesideQuery({ sittingId: lane.sittingId, itemId: lane.itemId }).data ?? [];
  const besides = beside.filter(b => isPlayable(b.medium)).length;
  const measured = useEvidence(heard, lane.durationMs);
  const track = trackOfLane(lane);
  // A rubric needs its room; of anything else more neighbours are in sight.
  const isTall = content.scoring.kind === 'rubric';

  const show = (part: Part['part']) => drawer.open(part, key, seen);
  const put = async (found: Found, asNote: boolean) => {
    if (!(await handles.marks.current?.put(found, asNote))) return;
    drawer.close();
    (document.activeElement as HTMLElement | null)?.blur();
  };

  const feedback = isBack(lane.state) ? (
    !lane.feedbackOpened && (
      <Button
        look="quiet"
        title={`${lane.studentName} has not looked at it yet`}
        onClick={() => onTakeBack([lane.sittingId])}
      >
        Take the feedback back
      </Button>
    )
  ) : lane.feedbackComesAt ? (
    <Button onClick={() => void callOff({ releaseId, sittingIds })}>
      Feedback {when(lane.feedbackComesAt)}: call it off
    </Button>
  ) : (
    isReady && (
      <Button onClick={() => onGive(lane.sittingId)}>
        Give feedback to {lane.studentCalled ?? lane.studentName} …
      </Button>
    )
  );
  // One item alone says it beside its score.
  const own = view.lanes.filter(l => l.sittingId === lane.sittingId);
  const total = own.length > 1 ? totalWords(content, own) : '';
  const acts = (
    <>
      {heard && (
        <>
          <Button
            look="quiet"
            className="!px-1"
            onClick={() => {
              show('notes');
              handles.notes.current?.here();
            }}
          >
            <PencilLine aria-hidden className="size-5" /> Note here<Key>N</Key>
          </Button>
          <Button
            look="quiet"
            className="!px-1"
            onClick={() => {
              show('notes');
              handles.notes.current?.speak();
            }}
          >
            <Mic aria-hidden className="size-5" /> Speak a note<Key>hold V</Key>
          </Button>
        </>
      )}
      {isMarkable && (
        <Button look="quiet" className="!px-1" onClick={() => show('bank')}>
          <MessageSquareText aria-hidden className="size-5" /> Bank<Key>C</Key>
        </Button>
      )}
      <span className="ms-auto flex flex-wrap items-center gap-2">
        {total && <span className="tabular text-sm whitespace-nowrap">in all {total}</span>}
        {feedback}
        <DecisionMenu
          releaseId={releaseId}
          lane={lane}
          items={content.items}
          isTalk={planOf(content) !== null}
          onMade={onDecided}
        />
      </span>
    </>
  );

  const parts: (Part | false)[] = [
    heard !== null && {
      part: 'notes',
      words: 'Notes',
      sign: lane.notes.length > 0 ? lane.notes.length : undefined,
      isKept: 'always',
      content: (
        <LaneNotes
          key={`notes ${heard}`}
          releaseId={releaseId}
          lane={lane}
          takeId={heard}
          handle={handles.notes}
          onSpoken={onSpoken}
        />
      ),
    },
    hasMore(lane, item) && {
      part: 'answer',
      words: 'Answer',
      content: (
        <AnswerPart
          lane={lane}
          item={item}
          content={content}
          turns={measured?.state === 'measured' ? measured.evidence.turns : undefined}
        />
      ),
    },
    {
      part: 'task',
      words: 'Task',
      content: (
        <div className="grid gap-4">
          <PromptWords item={item} />
          {content.scoring.rubric && <RubricView rubric={content.scoring.rubric} />}
        </div>
      ),
    },
    heard !== null &&
      track !== null && {
        part: 'measured',
        words: 'Measured',
        content: (
          <LaneEvidence
            key={`evidence ${track.id}`}
            lane={lane}
            item={item}
            track={track}
            released={released}
            lanes={view.lanes.filter(l => l.itemId === lane.itemId)}
            onPick={takeId => focus.goTo(view.lanes.find(l => l.takeId === takeId))}
          />
        ),
      },
    isAnswered(lane) &&
      hasMarkups(lane, item) && {
        part: 'marks',
        words: 'Marks',
        content: <LaneMarkups key={`markups ${key}`} lane={lane} item={item} />,
      },
    besides > 0 && {
      part: 'beside',
      words: 'Beside',
      sign: besides,
      isKept: 'onceOpen',
      content: <BesideLane key={`beside ${key}`} lane={lane} handle={handles.beside} />,
    },
    content.scoring.kind === 'level' && {
      part: 'levels',
      words: 'Overall level',
      sign: lane.level === null ? undefined : content.scoring.scale[lane.level]?.name,
      content: (
        <WholeLevel
          key={`level ${lane.sittingId}`}
          releaseId={releaseId}
          lane={lane}
          lanes={view.lanes.filter(l => l.sittingId === lane.sittingId)}
          content={content}
          handle={handles.levels}
          isArmed={givesLevel}
        />
      ),
    },
    isMarkable && {
      part: 'exchange',
      words: 'Exchange',
      sign: lane.replies.length > 0 ? lane.replies.length : undefined,
      isKept: 'onceOpen',
      content: <LaneExchange key={`exchange ${key}`} releaseId={releaseId} lane={lane} />,
    },
    { part: 'sitting', words: 'Sitting', content: <SittingPart lane={lane} content={content} /> },
    isMarkable &&
      drawer.isFinding(key) && {
        part: 'bank',
        words: 'Bank',
        content: (
          <div className="grid gap-3">
            <BankFinder onPut={(found, asNote) => void put(found, asNote)} onClose={drawer.close} />
            <PraiseRow releaseId={releaseId} lane={lane} />
          </div>
        ),
      },
  ];

  return (
    <div
      className={`grid grid-cols-1 border-t border-line ${
        isTall
          ? 'lg:h-[clamp(19rem,calc(100dvh-19rem),30rem)]'
          : 'lg:h-[clamp(19rem,calc(100dvh-19rem),24rem)]'
      } ${
        drawer.isWide
          ? 'lg:grid-cols-[minmax(20rem,2fr)_minmax(0,3fr)]'
          : 'lg:grid-cols-[minmax(0,3fr)_minmax(20rem,2fr)]'
      }`}
    >
      {isMarkable ? (
        <Marks
          key={key}
          releaseId={releaseId}
          content={content}
          lane={lane}
          item={item}
          handle={handles.marks}
          onFinished={(marking, sent, words) => onFinished(lane, marking, sent, words)}
          onPin={(words, commentId) => handles.notes.current?.pin(words, commentId) ?? Promise.resolve(false)}
          onKeepInBank={onKeepInBank}
          notices={<Notices lane={lane} />}
          extra={acts}
        />
      ) : (
        <div className="flex min-w-0 flex-col gap-3 px-4 py-3">
          <Notices lane={lane} />
          <p className="text-soft">
            {lane.state === 'underWay'
              ? 'Still under way: notes can be made now, and shown at once from here; it is scored once it is handed in.'
              : lane.askedAgain
                ? 'To record again: it waits for its student. Notes can still be made.'
                : ''}
          </p>
          <div className="mt-auto flex flex-wrap items-center gap-x-4 gap-y-1">{acts}</div>
        </div>
      )}
      <Drawer
        label={`Beside the score of ${lane.studentName}`}
        parts={parts.filter(p => p !== false)}
        drawer={drawer}
        lane={key}
        isSeen={seen}
        waitsForReply={waitsForReply(lane)}
      />
    </div>
  );
}
