import { Download, Eye, EyeOff, Volume2 } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { inWords } from '@ecoute/core/timing/words';
import type { Decision } from '@ecoute/contract/decisions';
import type { Lane, ListenView, ReturnResult } from '@ecoute/contract/marking';
import { useTitle } from '../../base/useTitle';
import { StudentMenu } from '../release/StudentMenu';
import { isPlayable } from '../../parts/AnswerFile';
import { Button, buttonClass } from '../../parts/Button';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { PromptWords } from '../../parts/PromptWords';
import { shortPrompt } from '../../parts/shortPrompt';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { fetchAhead, fetchPeaks, player, usePlayed } from '../../parts/player/usePlayer';
import { useReleaseEvidenceQuery } from '../../parts/evidence/endpoints';
import { Strip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { BesideLane, type BesideHandle } from './BesideLane';
import { DecisionMade, DecisionsMade } from './DecisionsMade';
import { DecisionMenu } from './DecisionMenu';
import {
  useCallOffReturnsMutation,
  useHideNamesMutation,
  useLanesQuery,
  useReturnSittingsMutation,
} from './endpoints';
import { KeysHelp } from './KeysHelp';
import { LaneEvidence } from './LaneEvidence';
import { LaneExchange } from './LaneExchange';
import { LaneFilters } from './LaneFilters';
import { passes, type LaneFilter } from './laneFilters';
import { LaneList } from './LaneList';
import { LaneNotes, type LaneNotesHandle } from './LaneNotes';
import { LaneRow } from './LaneRow';
import { OpenLane, type OpenLaneHandle } from './OpenLane';
import {
  checkReturn,
  groupsOf,
  isAnswered,
  isReady,
  laneKey,
  nextWaiting,
  waitingMs,
  waits,
  type Arrangement,
} from './order';
import { OthersHere } from './OthersHere';
import { ReturnDialog } from './ReturnDialog';
import { LaneMarkups } from './markup/LaneMarkups';
import { useLaneKeys } from './useLaneKeys';
import { useUnsent } from './useUnsent';
import { useOthers } from './useOthers';

/** A colleague at work here is seen within seconds; alone, one's own changes are here already. */
const LOOK_EVERY_MS = 30_000;
const LOOK_TOGETHER_MS = 4_000;

const MATCHES = 'ecoute-level-matched';

/** Quiet recordings are brought to the level of the others while somebody listens here, unless they say otherwise. */
function useMatchedLevels(): [boolean, (matches: boolean) => void] {
  const matches = usePlayed(state => state.matches);
  useEffect(() => {
    player.setMatches(localStorage.getItem(MATCHES) !== 'no');
    return () => player.setMatches(false);
  }, []);
  return [
    matches,
    next => {
      localStorage.setItem(MATCHES, next ? 'yes' : 'no');
      player.setMatches(next);
    },
  ];
}

function returnedWords({ returned, at, unfinished }: ReturnResult): string {
  const many = returned === 1 ? 'sitting' : 'sittings';
  const done = at
    ? `${returned} ${many} will be with ${returned === 1 ? 'its student' : 'their students'} ${when(at)}.`
    : `${returned} ${many} ${returned === 1 ? 'is with its student' : 'are with their students'} now.`;
  if (unfinished.length === 0) return done;
  const left = unfinished.map(u => {
    const why = [u.items.length > 0 && `item ${u.items.join(', ')}`, u.level && 'no level yet'];
    return `${u.studentName} (${why.filter(Boolean).join(', ')})`;
  });
  return `${done} Left alone: ${left.join('; ')}.`;
}

function Lanes({
  view,
  onSpoken,
  onTogether,
}: {
  view: ListenView;
  onSpoken: () => void;
  onTogether: (together: boolean) => void;
}) {
  const [arrangement, setArrangement] = useState<Arrangement>('item');
  const [filter, setFilter] = useState<LaneFilter>('all');
  const [focus, setFocus] = useState<string | null>(() => {
    const all = groupsOf(view, 'item').flatMap(g => g.lanes);
    const first = all.find(waits) ?? all[0];
    return first ? laneKey(first) : null;
  });
  // The lane in focus stays in sight also when it is just no longer what is looked for.
  const groups = useMemo(
    () =>
      filter === 'all'
        ? groupsOf(view, arrangement)
        : groupsOf(view, arrangement, l => passes(l, filter) || laneKey(l) === focus),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- without a filter the focus changes nothing
    [view, arrangement, filter, filter === 'all' ? null : focus],
  );
  const [help, setHelp] = useState(false);
  const [granted, setGranted] = useState<string | null>(null);
  const [decided, setDecided] = useState<Decision | null>(null);
  const [asking, setAsking] = useState(false);
  const [returnSittings, returning] = useReturnSittingsMutation();
  const [callOff] = useCallOffReturnsMutation();
  const [hideNames] = useHideNamesMutation();
  const [result, setResult] = useState<ReturnResult | null>(null);
  const { data: released } = useReleaseEvidenceQuery(view.releaseId);
  const [matches, setMatches] = useMatchedLevels();
  const handle = useRef<OpenLaneHandle>(null);
  const notes = useRef<LaneNotesHandle>(null);
  const beside = useRef<BesideHandle>(null);

  const focused = view.lanes.find(l => laneKey(l) === focus) ?? view.lanes[0]!;
  const group = groups.find(g => g.lanes.some(l => laneKey(l) === laneKey(focused))) ?? groups[0]!;
  const item = view.content.items.find(i => i.id === focused.itemId)!;
  const fullMs = Math.max(5_000, ...group.lanes.map(l => l.durationMs ?? 0));
  const check = useMemo(() => checkReturn(view), [view]);
  const ready = check.filter(isReady);
  const left = useMemo(() => waitingMs(view.lanes), [view]);
  const waiting = useMemo(() => view.lanes.filter(waits).length, [view]);
  const others = useOthers(view.releaseId, focused.sittingId);
  useEffect(() => onTogether(others.length > 0), [others.length, onTogether]);

  const trackOfLane = useCallback(
    (lane: Lane) => (lane.takeId ? trackOf(lane.takeId, lane.studentName, 'student', lane.durationMs) : null),
    [],
  );
  const goTo = useCallback(
    (lane: Lane | null | undefined, play = false) => {
      if (!lane) return;
      setFocus(laneKey(lane));
      const track = trackOfLane(lane);
      if (track && play) void player.play(track);
      else if (track) player.load(track);
      else player.pause();
    },
    [trackOfLane],
  );
  const finished = useCallback(
    () => goTo(nextWaiting(groups, laneKey(focused)), true),
    [groups, focused, goTo],
  );
  const unsent = useUnsent();

  useEffect(() => {
    // The neighbours' shapes and sounds are fetched ahead, so that the next one is there at once.
    const at = group.lanes.findIndex(l => laneKey(l) === laneKey(focused));
    const near = [group.lanes[at + 1], nextWaiting(groups, laneKey(focused))];
    for (const lane of near)
      if (lane?.takeId) {
        void fetchPeaks(lane.takeId, lane.durationMs).catch(() => undefined);
        void fetchAhead(trackOf(lane.takeId, lane.studentName, 'student', lane.durationMs)).catch(
          () => undefined,
        );
      }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another lane comes into focus
  }, [focus]);

  const latest = useRef(focused);
  useEffect(() => {
    latest.current = focused;
  });
  // The same function always: a lane out of focus is drawn again only when it changes itself.
  const focusOn = useCallback(
    (lane: Lane) => {
      if (laneKey(lane) !== laneKey(latest.current)) goTo(lane);
    },
    [goTo],
  );
  const move = (by: number) => {
    const at = group.lanes.findIndex(l => laneKey(l) === laneKey(focused));
    goTo(group.lanes[at + by]);
  };
  const prompt = item.promptRecordingId
    ? trackOf(item.promptRecordingId, `Prompt: ${shortPrompt(item)}`, 'teacher', item.promptDurationMs)
    : null;
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
      ArrowUp: () => move(-1),
      ArrowDown: () => move(1),
      c: () => handle.current?.toBank(),
      w: () => handle.current?.toComment(),
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
    finish: () => handle.current?.finish(),
    digit: (digit, joins) => handle.current?.digit(digit, joins),
    speaks: [() => notes.current?.speak(), () => notes.current?.hush()],
  });

  const answered = new Set(group.lanes.filter(isAnswered).map(l => l.itemId));
  const isNone = !group.lanes.some(l => passes(l, filter));

  return (
    <section className="grid grid-cols-1 gap-4">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <div className="min-w-0">
          <p className="text-soft">
            <Link to="/listen" className="underline underline-offset-4">
              Listen
            </Link>{' '}
            · {view.className}
          </p>
          <h1 className="text-2xl">{view.title}</h1>
        </div>
        <p role="status" className="text-lg">
          {waiting === 0 ? (
            'Everything here is marked.'
          ) : (
            <>
              <strong>
                {waiting} {waiting === 1 ? 'answer' : 'answers'}
              </strong>
              , {inWords(left)} to go
            </>
          )}
        </p>
        <div className="ms-auto flex flex-wrap items-center gap-3">
          <ToggleGroup.Root
            type="single"
            aria-label="Lanes lie"
            value={arrangement}
            onValueChange={v => v && setArrangement(v as Arrangement)}
            className="flex border-2 border-edge"
          >
            {(['item', 'student'] as const).map(a => (
              <ToggleGroup.Item
                key={a}
                value={a}
                className="min-h-10 bg-sheet px-3 data-[state=on]:bg-ink data-[state=on]:text-sheet"
              >
                by {a}
              </ToggleGroup.Item>
            ))}
          </ToggleGroup.Root>
          <Button
            look={waiting === 0 ? 'main' : 'plain'}
            disabled={check.length === 0}
            onClick={() => setAsking(true)}
          >
            {ready.length > 0 ? `Give feedback to ${ready.length} …` : 'Give feedback …'}
          </Button>
        </div>
      </div>
      <div className="flex flex-wrap items-center gap-x-8 gap-y-1">
        <LaneFilters lanes={view.lanes} filter={filter} onFilter={setFilter} />
        <OthersHere others={others} lanes={view.lanes} sittingId={focused.sittingId} />
        <div className="ms-auto flex flex-wrap items-center">
          <Button
            look="quiet"
            aria-pressed={view.namesHidden}
            title="Names show with the feedback"
            onClick={() => void hideNames({ releaseId: view.releaseId, hidden: !view.namesHidden })}
          >
            {view.namesHidden ? (
              <Eye aria-hidden className="size-5" />
            ) : (
              <EyeOff aria-hidden className="size-5" />
            )}
            {view.namesHidden ? 'Show names' : 'Hide names'}
          </Button>
          <Button
            look="quiet"
            aria-pressed={matches}
            title="Quiet recordings are made as loud as the others (M)"
            className="aria-pressed:decoration-ink aria-pressed:decoration-2"
            onClick={() => setMatches(!matches)}
          >
            <Volume2 aria-hidden className="size-5" /> One level{matches ? '' : ' (off)'}
          </Button>
          <Link to="/listen/comments" className={buttonClass('quiet')}>
            Comment bank
          </Link>
          <KeysHelp open={help} onOpen={setHelp} />
        </div>
      </div>
      <div className="sticky top-0 z-20 bg-ground pb-1">
        {result && (
          <Notice
            action={
              <Button look="quiet" onClick={() => setResult(null)}>
                Good
              </Button>
            }
          >
            {returnedWords(result)}
          </Notice>
        )}
        {unsent.trouble && (
          <Notice
            kind="trouble"
            action={
              <>
                <Button
                  onClick={() => {
                    goTo(view.lanes.find(l => laneKey(l) === unsent.trouble!.key));
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
        <Strip
          items={view.content.items}
          current={focused.itemId}
          answered={arrangement === 'student' ? answered : undefined}
          onChoose={id =>
            goTo(
              arrangement === 'item'
                ? (groups.find(g => g.id === id)?.lanes.find(waits) ??
                    groups.find(g => g.id === id)?.lanes[0])
                : group.lanes.find(l => l.itemId === id),
            )
          }
        />
        <div className="flex items-center gap-3 py-1">
          {prompt && <PlayButton track={prompt} label="the prompt" text="Prompt" />}
          {item.promptRich || item.stimuli.length > 0 || item.promptIsVideo ? (
            <details className="min-w-0 flex-1">
              <summary className="cursor-pointer truncate font-passage">{shortPrompt(item)}</summary>
              <div className="max-h-[50vh] overflow-y-auto bg-sheet p-4">
                <PromptWords item={item} />
              </div>
            </details>
          ) : (
            <p className="min-w-0 flex-1 truncate font-passage">{shortPrompt(item)}</p>
          )}
          {arrangement === 'student' && (
            <select
              aria-label="Student"
              value={group.id}
              onChange={e => goTo(groups.find(g => g.id === e.target.value)?.lanes[0])}
              className="min-h-11 border-2 border-edge bg-sheet px-2"
            >
              {groups.map(g => (
                <option key={g.id} value={g.id}>
                  {g.name}
                </option>
              ))}
            </select>
          )}
        </div>
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
          const index = view.content.items.findIndex(i => i.id === lane.itemId);
          const laneItem = view.content.items[index]!;
          const row = {
            lane,
            content: view.content,
            item: laneItem,
            name: arrangement === 'item' ? lane.studentName : `Item ${index + 1}`,
            fullMs,
            onFocus: focusOn,
            measured: lane.takeId ? released?.takes[lane.takeId] : undefined,
            ...list,
          };
          // What a lane opens with is made for the one in focus alone: hundreds of others only show their shape.
          if (key !== laneKey(focused)) return <LaneRow key={key} {...row} focused={false} />;
          const isMarkable = isAnswered(lane) && lane.state !== 'underWay' && !lane.givenBack;
          const menu = (
            <DecisionMenu releaseId={view.releaseId} lane={lane} onMade={made => setDecided(made)} />
          );
          const track = trackOfLane(lane);
          const evidence = track && isPlayable(lane.medium) && (
            <LaneEvidence
              key={`evidence ${lane.takeId}`}
              lane={lane}
              item={laneItem}
              track={track}
              released={released}
              lanes={view.lanes.filter(l => l.itemId === lane.itemId)}
              onPick={takeId => goTo(view.lanes.find(l => l.takeId === takeId))}
            />
          );
          return (
            <LaneRow key={key} {...row} focused evidence={evidence}>
              {lane.takeId && isPlayable(lane.medium) && (
                <>
                  <LaneNotes
                    key={`notes ${lane.takeId}`}
                    releaseId={view.releaseId}
                    lane={lane}
                    takeId={lane.takeId}
                    handle={notes}
                    onSpoken={onSpoken}
                  />
                </>
              )}
              {isAnswered(lane) && <LaneMarkups key={`markups ${key}`} lane={lane} item={laneItem} />}
              {isMarkable ? (
                <OpenLane
                  key={key}
                  releaseId={view.releaseId}
                  content={view.content}
                  lane={lane}
                  lanes={view.lanes.filter(l => l.sittingId === lane.sittingId)}
                  item={laneItem}
                  onFinished={saved => {
                    finished();
                    unsent.watch(lane, saved);
                  }}
                  handle={handle}
                  onPin={(words, commentId) => notes.current?.pin(words, commentId) ?? Promise.resolve(false)}
                  extra={
                    <>
                      {lane.returnsAt ? (
                        <Button
                          onClick={() =>
                            void callOff({ releaseId: view.releaseId, sittingIds: [lane.sittingId] })
                          }
                        >
                          Feedback {when(lane.returnsAt)}: call it off
                        </Button>
                      ) : (
                        ready.some(c => c.sittingId === lane.sittingId) && (
                          <Button
                            disabled={returning.isLoading}
                            onClick={() =>
                              void returnSittings({ releaseId: view.releaseId, sittingIds: [lane.sittingId] })
                                .unwrap()
                                .then(setResult, () => undefined)
                            }
                          >
                            Give feedback to{' '}
                            {view.namesHidden ? lane.studentName : lane.studentName.split(' ')[0]}
                          </Button>
                        )
                      )}
                      {menu}
                    </>
                  }
                />
              ) : (
                <div className="flex items-center gap-3 border-t border-line px-4 py-2 text-soft">
                  {lane.state === 'underWay'
                    ? 'Still under way: notes can be made now, and shown at once from here; it is scored once it is handed in.'
                    : lane.givenBack
                      ? 'To record again: it waits for its student. Notes can still be made.'
                      : ''}
                  <span className="ms-auto">{menu}</span>
                </div>
              )}
              {lane.takeId && isPlayable(lane.medium) && (
                <BesideLane key={`beside ${key}`} lane={lane} handle={beside} />
              )}
              {isMarkable && <LaneExchange key={`exchange ${key}`} releaseId={view.releaseId} lane={lane} />}
            </LaneRow>
          );
        }}
      </LaneList>
      {granted && <Notice action={<Button onClick={() => setGranted(null)}>Good</Button>}>{granted}</Notice>}
      {view.missing.length > 0 && (
        <ul aria-label="Not handed in" className="flex flex-wrap items-center gap-x-5 text-soft">
          <li>Not handed in:</li>
          {view.namesHidden ? (
            <li>
              {view.missing.length} {view.missing.length === 1 ? 'student' : 'students'}
            </li>
          ) : (
            view.missing.map(m => (
              <li key={m.id} className="flex items-center">
                {m.displayName}
                {m.id && (
                  <StudentMenu
                    releaseId={view.releaseId}
                    student={{ id: m.id, displayName: m.displayName }}
                    dueAt={view.dueAt}
                    excused={false}
                    extended={false}
                    onGranted={words => setGranted(`${m.displayName} ${words}.`)}
                  />
                )}
              </li>
            ))
          )}
        </ul>
      )}
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
        <ReturnDialog
          view={view}
          onClose={() => setAsking(false)}
          onReturned={done => {
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
