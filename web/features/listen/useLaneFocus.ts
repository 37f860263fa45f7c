import { useCallback, useEffect, useMemo, useRef, useState, type RefObject } from 'react';
import { useSearchParams } from 'react-router';
import type { Lane, ListenView } from '@ecoute/contract/marking';
import { trackOf } from '../../parts/player/PlayButton';
import { fetchAhead, fetchPeaks, getReady, player } from '../../parts/player/usePlayer';
import type { Track } from '../../parts/player/player';
import { isAmong, isNarrowed, narrowedIn, type Narrowed } from './laneFilters';
import { groupsOf, isLaneOf, laneKey, nextWaiting, waits, type Arrangement } from './order';

/** A lane's recording for the player; null where there is none. */
export const trackOfLane = ({ takeId, studentName, durationMs }: Lane): Track | null =>
  takeId ? trackOf(takeId, studentName, 'student', durationMs) : null;

function fetchNear(lane: Lane | null | undefined, by: (track: Track) => Promise<void> = fetchAhead): void {
  const track = lane && trackOfLane(lane);
  if (!track) return;
  void fetchPeaks(track.id, lane.durationMs).catch(() => undefined);
  void by(track).catch(() => undefined);
}

/**
 * Which lane is in focus, among the groups in which lanes lie, and the ways from it to others. Whatever comes into focus is
 * what the player has; its neighbours are fetched ahead, so that the next one is there at once.
 * @param taken sittings that colleagues are at just now
 */
export function useLaneFocus(view: ListenView, taken: RefObject<ReadonlySet<string>>) {
  // In the address: it can be kept, sent, and come back to.
  const [address, setAddress] = useSearchParams();
  const arrangement: Arrangement = address.get('by') === 'student' ? 'student' : 'item';
  const said = address.toString();
  // The address follows: what is typed would be slower than the fingers if it went by way of it.
  const [narrowed, narrow] = useState(() => narrowedIn(address));
  const write = (values: Record<string, string>) => {
    const next = new URLSearchParams(said);
    for (const [name, value] of Object.entries(values))
      if (value) next.set(name, value);
      else next.delete(name);
    setAddress(next, { replace: true, preventScrollReset: true });
  };
  const setArrangement = (next: Arrangement) => write({ by: next === 'student' ? next : '' });
  const setNarrowed = (next: Narrowed) => {
    narrow(next);
    write({ show: next.filters.join(' '), who: next.who });
  };
  const [focus, setFocus] = useState<string | null>(() => {
    const all = groupsOf(view, arrangement).flatMap(g => g.lanes);
    const among = all.filter(l => isAmong(l, narrowed));
    // Somebody comes from a place that names it.
    const [sitting, item] = [address.get('sitting'), address.get('item')];
    const asked = sitting ? all.filter(l => l.sittingId === sitting && (!item || l.itemId === item)) : [];
    if (asked.length > 0) return laneKey(asked.find(waits) ?? asked[0]!);
    const first = among.find(waits) ?? among[0] ?? all.find(waits) ?? all[0];
    return first ? laneKey(first) : null;
  });
  // The lane in focus stays in sight also when it is just no longer what is looked for.
  const groups = useMemo(
    () =>
      isNarrowed(narrowed)
        ? groupsOf(view, arrangement, l => isAmong(l, narrowed) || laneKey(l) === focus)
        : groupsOf(view, arrangement),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- where nothing is narrowed the focus changes nothing
    [view, arrangement, narrowed, isNarrowed(narrowed) ? focus : null],
  );
  const focused = view.lanes.find(isLaneOf(focus)) ?? view.lanes[0]!;
  const key = laneKey(focused);
  const isFocused = isLaneOf(key);
  const group = groups.find(g => g.lanes.some(isFocused)) ?? groups[0]!;
  const place = group.lanes.findIndex(isFocused);

  const goTo = useCallback((lane: Lane | null | undefined, play = false) => {
    if (!lane) return;
    setFocus(laneKey(lane));
    const track = trackOfLane(lane);
    if (track && play) void player.play(track);
    else if (track) player.load(track);
    else player.pause();
  }, []);

  const nextAfter = () =>
    nextWaiting(groups, key, l => !taken.current.has(l.sittingId)) ?? nextWaiting(groups, key);

  // The first one is heard first of all.
  useEffect(() => fetchNear(focused), []); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => {
    fetchNear(group.lanes[place + 1]);
    // Finishing goes there: it is ready to begin; the one behind it is here by then.
    const next = nextAfter();
    fetchNear(next, getReady);
    if (next) fetchNear(nextWaiting(groups, laneKey(next)));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another lane comes into focus
  }, [focus]);

  const latest = useRef(key);
  useEffect(() => {
    latest.current = key;
  });
  return {
    arrangement,
    setArrangement,
    narrowed,
    setNarrowed,
    groups,
    group,
    focused,
    goTo,
    /** To the lane so many further down. */
    move: (by: number) => goTo(group.lanes[place + by]),
    /** On to the next one that waits, and plays it: to one where no colleague is, as long as there is one. */
    toNextWaiting: () => goTo(nextAfter(), true),
    /** On to the next that waits among some. */
    toNextWaitingOf: (isOne: (lane: Lane) => boolean) => goTo(nextWaiting(groups, key, isOne), true),
    // The same function always: a lane out of focus is drawn again only when it changes itself.
    focusOn: useCallback(
      (lane: Lane) => {
        if (laneKey(lane) !== latest.current) goTo(lane);
      },
      [goTo],
    ),
    /** To an item, as the lanes lie: its first that waits, or this student's answer to it. */
    toItem: (itemId: string) => {
      const there = groups.find(g => g.id === itemId)?.lanes;
      goTo(
        arrangement === 'item'
          ? (there?.find(waits) ?? there?.[0])
          : group.lanes.find(l => l.itemId === itemId),
      );
    },
    /** To the first of those that are looked for. */
    toFirst: () => goTo(groups.flatMap(g => g.lanes).find(l => isAmong(l, narrowed))),
    toGroup: (id: string) => goTo(groups.find(g => g.id === id)?.lanes[0]),
  };
}

export type LaneFocus = ReturnType<typeof useLaneFocus>;
