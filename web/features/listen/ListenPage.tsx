import { Download } from 'lucide-react';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useParams } from 'react-router';
import type { Item } from '@ecoute/contract/assessments';
import type { Decision } from '@ecoute/contract/decisions';
import type { Lane, ListenView, FeedbackResult } from '@ecoute/contract/marking';
import { useTitle } from '../../base/useTitle';
import { isPlayable } from '../../parts/AnswerFile';
import { Button } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { shortPrompt } from '../../parts/shortPrompt';
import { trackOf } from '../../parts/player/PlayButton';
import { fetchPeaks, player } from '../../parts/player/usePlayer';
import { useReleaseEvidenceQuery } from '../evidence/endpoints';
import type { BesideHandle } from './BesideLane';
import { DecisionMade, DecisionsMade } from './DecisionsMade';
import { useLanesQuery } from './endpoints';
import { FocusedLane } from './FocusedLane';
import { KeysHelp } from './KeysHelp';
import { passes } from './laneFilters';
import { LaneEvidence } from './LaneEvidence';
import { LaneList } from './LaneList';
import type { LaneNotesHandle } from './LaneNotes';
import { LaneRow } from './LaneRow';
import { ListenHead } from './ListenHead';
import { MissingStudents } from './MissingStudents';
import { NowStrip } from './NowStrip';
import type { OpenLaneHandle } from './OpenLane';
import { checkFeedback, isReady, laneKey } from './order';
import { FeedbackDialog } from './FeedbackDialog';
import { givenWords } from './givenWords';
import { trackOfLane, useLaneFocus } from './useLaneFocus';
import { useLaneKeys } from './useLaneKeys';
import { useMatchedLevels } from './useMatchedLevels';
import { useOthers } from './useOthers';
import { useUnsent } from './useUnsent';

/** A colleague at work here is seen within seconds; alone, one's own changes are here already. */
const LOOK_EVERY_MS = 30_000;
const LOOK_TOGETHER_MS = 4_000;

function Lanes({
  view,
  onSpoken,
  onTogether,
}: {
  view: ListenView;
  onSpoken: () => void;
  onTogether: (together: boolean) => void;
}) {
  const focus = useLaneFocus(view);
  const { focused, group, arrangement } = focus;
  const [help, setHelp] = useState(false);
  const [decided, setDecided] = useState<Decision | null>(null);
  const [asking, setAsking] = useState(false);
  const [result, setResult] = useState<FeedbackResult | null>(null);
  const { data: released } = useReleaseEvidenceQuery(view.releaseId);
  const [matches, setMatches] = useMatchedLevels();
  const marking = useRef<OpenLaneHandle>(null);
  const notes = useRef<LaneNotesHandle>(null);
  const beside = useRef<BesideHandle>(null);
  const unsent = useUnsent();

  const item = view.content.items.find(i => i.id === focused.itemId)!;
  const prompt = item.promptRecordingId
    ? trackOf(item.promptRecordingId, `Prompt: ${shortPrompt(item)}`, 'teacher', item.promptDurationMs)
    : null;
  const check = useMemo(() => checkFeedback(view), [view]);
  const ready = check.filter(isReady);
  const others = useOthers(view.releaseId, focused.sittingId);
  useEffect(() => onTogether(others.length > 0), [others.length, onTogether]);

  useLaneKeys({
    keys: {
      ' ': () => {
        const track = trackOfLane(focused);
        if (track) void player.toggle(track);
      },
      ArrowLeft: () => player.skip(-3_000),
      ArrowRight: event => {
        if (!event.shiftKey || !focused.takeId) return player.skip(3_000);
        void fetchPeaks(focused.takeId, focused.durationMs).then(peaks => player.toNextSpeech(peaks));
      },
      ArrowUp: () => focus.move(-1),
      ArrowDown: () => focus.move(1),
      c: () => marking.current?.toBank(),
      w: () => marking.current?.toComment(),
      n: () => notes.current?.here(),
      b: () => beside.current?.change(),
      // From the prompt to the answer and back.
      p: () => {
        const isPrompt = prompt !== null && player.now().track?.id === prompt.id && player.now().playing;
        const track = isPrompt ? trackOfLane(focused) : prompt;
        if (track) void player.play(track);
      },
      l: () => player.markLoop(),
      s: () => player.setSkipsSilence(!player.now().skipsSilence),
      m: () => setMatches(!matches),
      '?': () => setHelp(true),
    },
    finish: () => marking.current?.finish(),
    digit: (digit, joins) => marking.current?.digit(digit, joins),
    speaks: [() => notes.current?.speak(), () => notes.current?.hush()],
  });

  const fullMs = Math.max(5_000, ...group.lanes.map(l => l.durationMs ?? 0));
  const isNone = !group.lanes.some(l => passes(l, focus.filter));
  const shown = (lane: Lane) => {
    const index = view.content.items.findIndex(i => i.id === lane.itemId);
    return {
      lane,
      content: view.content,
      item: view.content.items[index]!,
      name: arrangement === 'item' ? lane.studentName : `Item ${index + 1}`,
      fullMs,
      onFocus: focus.focusOn,
      measured: lane.takeId ? released?.takes[lane.takeId] : undefined,
    };
  };

  const evidenceOf = (lane: Lane, of: Item) => {
    const track = trackOfLane(lane);
    if (!track || !isPlayable(lane.medium)) return undefined;
    return (
      <LaneEvidence
        key={`evidence ${track.id}`}
        lane={lane}
        item={of}
        track={track}
        released={released}
        lanes={view.lanes.filter(l => l.itemId === lane.itemId)}
        onPick={takeId => focus.goTo(view.lanes.find(l => l.takeId === takeId))}
      />
    );
  };

  return (
    <section className="grid grid-cols-1 gap-4">
      <ListenHead
        view={view}
        focus={focus}
        others={others}
        ready={ready.length}
        mayGive={check.length > 0}
        onGive={() => setAsking(true)}
        matches={matches}
        onMatches={setMatches}
        help={<KeysHelp open={help} onOpen={setHelp} />}
      />
      <div className="sticky top-0 z-20 bg-ground pb-1">
        {result && (
          <Notice
            action={
              <Button look="quiet" onClick={() => setResult(null)}>
                Good
              </Button>
            }
          >
            {givenWords(result)}
          </Notice>
        )}
        {unsent.trouble && (
          <Notice
            kind="trouble"
            action={
              <>
                <Button
                  onClick={() => {
                    focus.goTo(view.lanes.find(l => laneKey(l) === unsent.trouble!.key));
                    unsent.forget();
                  }}
                >
                  Go to it
                </Button>
                <Button look="quiet" onClick={unsent.again}>
                  Send again
                </Button>
              </>
            }
          >
            {unsent.trouble.name} is not finished yet. {unsent.trouble.message}
          </Notice>
        )}
        {decided && (
          <DecisionMade releaseId={view.releaseId} decision={decided} onDone={() => setDecided(null)} />
        )}
        <NowStrip items={view.content.items} item={item} prompt={prompt} focus={focus} />
      </div>
      {isNone && (
        <p className="text-soft">
          Nothing else like this {arrangement === 'item' ? 'on this item' : 'of this student'}; the strip
          leads to the others.
        </p>
      )}
      <LaneList
        lanes={group.lanes}
        focused={laneKey(focused)}
        label={arrangement === 'item' ? group.name : `Answers of ${group.name}`}
      >
        {(lane, list) => {
          const key = laneKey(lane);
          const row = { ...shown(lane), ...list };
          // What a lane opens with is made for the one in focus alone: hundreds of others only show their shape.
          if (key !== laneKey(focused)) return <LaneRow key={key} {...row} focused={false} />;
          return (
            <LaneRow key={key} {...row} focused evidence={evidenceOf(lane, row.item)}>
              <FocusedLane
                view={view}
                lane={lane}
                item={row.item}
                focus={focus}
                isReady={ready.some(c => c.sittingId === lane.sittingId)}
                handles={{ marking, notes, beside }}
                unsent={unsent}
                onSpoken={onSpoken}
                onDecided={setDecided}
                onGiven={setResult}
              />
            </LaneRow>
          );
        }}
      </LaneList>
      <MissingStudents view={view} />
      <p className="flex flex-wrap gap-x-6">
        <a
          href={`/api/releases/${view.releaseId}/recordings.zip`}
          download
          className="inline-flex min-h-11 items-center gap-2 underline underline-offset-4"
        >
          <Download aria-hidden className="size-5" /> All recordings (ZIP, with an index)
        </a>
      </p>
      <DecisionsMade releaseId={view.releaseId} />
      {asking && (
        <FeedbackDialog
          view={view}
          onClose={() => setAsking(false)}
          onGiven={done => {
            setResult(done);
            setAsking(false);
          }}
        />
      )}
    </section>
  );
}

export function ListenPage() {
  const { id = '' } = useParams();
  const [together, setTogether] = useState(false);
  const { data, error, isLoading, refetch } = useLanesQuery(id, {
    pollingInterval: together ? LOOK_TOGETHER_MS : LOOK_EVERY_MS,
    refetchOnMountOrArgChange: true,
  });
  const again = useCallback(() => void refetch(), [refetch]);
  useTitle(data ? `Listen: ${data.title}` : 'Listen');
  if (isLoading) return <Loading rows={8} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  if (data.lanes.length === 0)
    return (
      <section className="grid gap-6">
        <Empty title="Nothing handed in yet">
          What students hand in of “{data.title}” appears here automatically.
        </Empty>
        <DecisionsMade releaseId={id} />
      </section>
    );
  return <Lanes view={data} onSpoken={again} onTogether={setTogether} />;
}
