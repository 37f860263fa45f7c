import { ToggleGroup } from 'radix-ui';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import { inWords } from '@ecoute/core/timing/words';
import type { Lane, ListenView, ReturnResult } from '@ecoute/contract/marking';
import { refusalOf } from '../../app/api';
import { useTitle } from '../../app/useTitle';
import { StudentMenu } from '../release/StudentMenu';
import { isPlayable } from '../../parts/AnswerFile';
import { Button } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Empty } from '../../parts/Empty';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { PromptWords } from '../../parts/PromptWords';
import { shortPrompt } from '../../parts/shortPrompt';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { fetchPeaks, player } from '../../parts/player/usePlayer';
import { Strip } from '../../parts/strip/Strip';
import { useLanesQuery, useReturnSittingsMutation } from './endpoints';
import { KeysHelp } from './KeysHelp';
import { LaneNotes, type LaneNotesHandle } from './LaneNotes';
import { LaneRow } from './LaneRow';
import { OpenLane, type OpenLaneHandle } from './OpenLane';
import {
  groupsOf,
  isAnswered,
  laneKey,
  nextWaiting,
  returnable,
  waitingMs,
  waits,
  type Arrangement,
} from './order';

/** Keys belong to the lanes unless somebody types, chooses or presses something. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    target.closest('input, textarea, select, [role=dialog], [role=menu]') !== null
  );
}

function Lanes({ view, onSpoken }: { view: ListenView; onSpoken: () => void }) {
  const [arrangement, setArrangement] = useState<Arrangement>('item');
  const groups = useMemo(() => groupsOf(view, arrangement), [view, arrangement]);
  const [focus, setFocus] = useState<string | null>(() => {
    const all = groupsOf(view, 'item').flatMap(g => g.lanes);
    const first = all.find(waits) ?? all[0];
    return first ? laneKey(first) : null;
  });
  const [help, setHelp] = useState(false);
  const [granted, setGranted] = useState<string | null>(null);
  const [asking, setAsking] = useState(false);
  const [giveBack, returning] = useReturnSittingsMutation();
  const [result, setResult] = useState<ReturnResult | null>(null);
  const handle = useRef<OpenLaneHandle>(null);
  const notes = useRef<LaneNotesHandle>(null);
  const focusedRow = useRef<HTMLLIElement>(null);
  /** V is held down: a note is spoken until it is let go. */
  const held = useRef(false);
  const lastDigit = useRef(0);
  const moved = useRef(false);
  /** True while somebody goes about by Tab or a screen reader: then a button under the focus keeps Enter and Space. */
  const tabbed = useRef(false);
  const pressing = useRef(false);

  const focused = view.lanes.find(l => laneKey(l) === focus) ?? view.lanes[0]!;
  const group = groups.find(g => g.lanes.some(l => laneKey(l) === laneKey(focused))) ?? groups[0]!;
  const item = view.content.items.find(i => i.id === focused.itemId)!;
  const fullMs = Math.max(5_000, ...group.lanes.map(l => l.durationMs ?? 0));
  const ready = returnable(view.lanes, view.content.scoring.kind === 'level');
  const left = waitingMs(view.lanes);
  const waiting = view.lanes.filter(waits).length;

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

  useEffect(() => {
    if (moved.current) focusedRow.current?.scrollIntoView({ block: 'nearest' });
    moved.current = true;
    // The neighbours' shapes and sounds are fetched ahead, so that the next one is there at once.
    const at = group.lanes.findIndex(l => laneKey(l) === laneKey(focused));
    const near = [group.lanes[at + 1], nextWaiting(groups, laneKey(focused))];
    for (const lane of near)
      if (lane?.takeId) {
        void fetchPeaks(lane.takeId, lane.durationMs).catch(() => undefined);
        void fetch(`/api/recordings/${lane.takeId}/sound`)
          .then(r => r.blob())
          .catch(() => undefined);
      }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another lane comes into focus
  }, [focus]);

  useEffect(() => {
    const onPointer = () => {
      tabbed.current = false;
      pressing.current = true;
    };
    const onReleased = () => (pressing.current = false);
    const onFocus = () => {
      if (!pressing.current) tabbed.current = true;
    };
    const onKey = (event: KeyboardEvent) => {
      if (event.key === 'Tab') tabbed.current = true;
      if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
        event.preventDefault();
        handle.current?.finish();
        return;
      }
      if (
        event.key === 'Escape' &&
        event.target instanceof HTMLElement &&
        event.target.matches('input, textarea')
      ) {
        event.target.blur();
        return;
      }
      const inPoints = event.target instanceof HTMLInputElement && event.target.inputMode === 'decimal';
      if (event.key === 'Enter' && inPoints) {
        event.preventDefault();
        event.target.blur();
        handle.current?.finish();
        return;
      }
      if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
      const track = trackOfLane(focused);
      // Reached by Tab, a button keeps its own Enter and Space; after a click the keys belong to the lanes again.
      const button = event.target instanceof HTMLElement ? event.target.closest('button, a') : null;
      const onButton = tabbed.current && button !== null;
      const move = (by: number) => {
        const at = group.lanes.findIndex(l => laneKey(l) === laneKey(focused));
        goTo(group.lanes[at + by]);
      };
      const keys: Record<string, () => void> = {
        ' ': () => track && void player.toggle(track),
        ArrowLeft: () => player.skip(-3_000),
        ArrowRight: () => {
          if (!event.shiftKey || !focused.takeId) return player.skip(3_000);
          void fetchPeaks(focused.takeId, focused.durationMs).then(peaks => player.toNextSpeech(peaks));
        },
        ArrowUp: () => move(-1),
        ArrowDown: () => move(1),
        Enter: () => handle.current?.finish(),
        c: () => handle.current?.toComment(),
        n: () => notes.current?.here(),
        // Held down, a key says so again and again.
        v: () => {
          if (event.repeat) return;
          held.current = true;
          notes.current?.speak();
        },
        l: () => player.markLoop(),
        s: () => player.setSkipsSilence(!player.now().skipsSilence),
        '?': () => setHelp(true),
      };
      if (/^[0-9]$/.test(event.key)) {
        const now = performance.now();
        const soon = now - lastDigit.current < 1_500;
        lastDigit.current = now;
        handle.current?.digit(event.key, soon);
        event.preventDefault();
        return;
      }
      if (onButton && (event.key === 'Enter' || event.key === ' ')) return;
      const action = keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
      if (!action) return;
      event.preventDefault();
      action();
    };
    const onKeyUp = (event: KeyboardEvent) => {
      if (event.key.toLowerCase() !== 'v' || !held.current) return;
      held.current = false;
      notes.current?.hush();
    };
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('keydown', onKey);
    window.addEventListener('pointerdown', onPointer);
    window.addEventListener('pointerup', onReleased);
    window.addEventListener('pointercancel', onReleased);
    window.addEventListener('focusin', onFocus);
    return () => {
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('pointerdown', onPointer);
      window.removeEventListener('pointerup', onReleased);
      window.removeEventListener('pointercancel', onReleased);
      window.removeEventListener('focusin', onFocus);
    };
  }, [focused, goTo, group, trackOfLane]);

  const returnThese = (sittingIds: string[]) =>
    giveBack({ releaseId: view.releaseId, sittingIds })
      .unwrap()
      .then(setResult, () => undefined);
  const refusal = refusalOf(returning.error);
  const answered = new Set(group.lanes.filter(isAnswered).map(l => l.itemId));

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
          <KeysHelp open={help} onOpen={setHelp} />
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
            disabled={ready.length === 0 || returning.isLoading}
            onClick={() => setAsking(true)}
          >
            Return {ready.length > 0 ? ready.length : ''} …
          </Button>
        </div>
      </div>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      {result && (
        <Notice>
          {result.returned}{' '}
          {result.returned === 1 ? 'sitting is with its student' : 'sittings are with their students'} now.
          {result.unfinished.length > 0 &&
            ` Left alone: ${result.unfinished
              .map(
                u =>
                  `${u.studentName} (${[u.items.length > 0 && `item ${u.items.join(', ')}`, u.level && 'no level yet'].filter(Boolean).join(', ')})`,
              )
              .join('; ')}.`}
        </Notice>
      )}
      <div className="sticky top-0 z-20 bg-ground pb-1">
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
          {item.promptRecordingId && (
            <PlayButton
              track={trackOf(
                item.promptRecordingId,
                `Prompt: ${shortPrompt(item)}`,
                'teacher',
                item.promptDurationMs,
              )}
              label="the prompt"
              text="Prompt"
            />
          )}
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
      <ol
        className="grid grid-cols-1 gap-px bg-line"
        aria-label={arrangement === 'item' ? group.name : `Answers of ${group.name}`}
      >
        {group.lanes.map(lane => {
          const key = laneKey(lane);
          const isFocused = key === laneKey(focused);
          const index = view.content.items.findIndex(i => i.id === lane.itemId);
          return (
            <LaneRow
              key={key}
              lane={lane}
              content={view.content}
              item={view.content.items[index]!}
              name={arrangement === 'item' ? lane.studentName : `Item ${index + 1}`}
              fullMs={fullMs}
              focused={isFocused}
              onFocus={() => !isFocused && goTo(lane)}
              rowRef={isFocused ? focusedRow : undefined}
            >
              {isFocused && lane.takeId && isPlayable(lane.medium) && (
                <LaneNotes
                  key={`notes ${lane.takeId}`}
                  releaseId={view.releaseId}
                  lane={lane}
                  takeId={lane.takeId}
                  handle={notes}
                  onSpoken={onSpoken}
                />
              )}
              {isAnswered(lane) && (
                <OpenLane
                  key={key}
                  releaseId={view.releaseId}
                  content={view.content}
                  lane={lane}
                  item={view.content.items[index]!}
                  onFinished={finished}
                  handle={handle}
                  extra={
                    <>
                      {ready.includes(lane.sittingId) && (
                        <Button
                          disabled={returning.isLoading}
                          onClick={() => void returnThese([lane.sittingId])}
                        >
                          Return to {lane.studentName.split(' ')[0]}
                        </Button>
                      )}
                      <StudentMenu
                        releaseId={view.releaseId}
                        student={{ id: lane.studentId, displayName: lane.studentName }}
                        dueAt={view.dueAt}
                        excused={false}
                        extended={false}
                        onGranted={words => setGranted(`${lane.studentName} ${words}.`)}
                      />
                    </>
                  }
                />
              )}
            </LaneRow>
          );
        })}
      </ol>
      {granted && <Notice action={<Button onClick={() => setGranted(null)}>Good</Button>}>{granted}</Notice>}
      {view.missing.length > 0 && (
        <ul aria-label="Not handed in" className="flex flex-wrap items-center gap-x-5 text-soft">
          <li>Not handed in:</li>
          {view.missing.map(m => (
            <li key={m.id} className="flex items-center">
              {m.displayName}
              <StudentMenu
                releaseId={view.releaseId}
                student={m}
                dueAt={view.dueAt}
                excused={false}
                extended={false}
                onGranted={words => setGranted(`${m.displayName} ${words}.`)}
              />
            </li>
          ))}
        </ul>
      )}
      <Confirm
        open={asking}
        onClose={() => setAsking(false)}
        title={`Return ${ready.length} ${ready.length === 1 ? 'sitting' : 'sittings'}?`}
        yes="Return now"
        no="Not yet"
        onYes={() => void returnThese(ready)}
      >
        <p>
          Each student hears their own recording and sees points and comments.{' '}
          {waiting > 0 &&
            `Sittings with unmarked answers stay with you (${waiting} ${waiting === 1 ? 'answer' : 'answers'}).`}
        </p>
      </Confirm>
    </section>
  );
}

export function ListenPage() {
  const { id = '' } = useParams();
  const { data, error, isLoading, refetch } = useLanesQuery(id, {
    pollingInterval: 30_000,
    refetchOnMountOrArgChange: true,
  });
  const again = useCallback(() => void refetch(), [refetch]);
  useTitle(data ? `Listen: ${data.title}` : 'Listen');
  if (isLoading) return <Loading rows={8} />;
  if (!data) return <Failed error={error} again={() => void refetch()} />;
  if (data.lanes.length === 0)
    return (
      <Empty title="Nothing handed in yet">
        What students hand in of “{data.title}” appears here by itself.
      </Empty>
    );
  return <Lanes view={data} onSpoken={again} />;
}
