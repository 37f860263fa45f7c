import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { Lane, ListenView } from '@ecoute/contract/marking';
import { trackOf } from '../../parts/player/PlayButton';
import { fetchAhead, fetchPeaks, player } from '../../parts/player/usePlayer';
import type { Track } from '../../parts/player/player';
import { passes, type LaneFilter } from './laneFilters';
import { groupsOf, laneKey, nextWaiting, waits, type Arrangement } from './order';

/** A lane's recording for the player; null where there is none. */
export const trackOfLane = ({ takeId, studentName, durationMs }: Lane): Track | null =>
  takeId ? trackOf(takeId, studentName, 'student', durationMs) : null;

function fetchNear(lane: Lane | null | undefined): void {
  const track = lane && trackOfLane(lane);
  if (!track) return;
  void fetchPeaks(track.id, lane.durationMs).catch(() => undefined);
  void fetchAhead(track).catch(() => undefined);
}

/**
 * Which lane is in focus, among the groups in which lanes lie, and the ways from it to others. Whatever comes into focus is
 * what the player has; its neighbours are fetched ahead, so that the next one is there at once.
 */
export function useLaneFocus(view: ListenView) {
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
  const focused = view.lanes.find(l => laneKey(l) === focus) ?? view.lanes[0]!;
  const key = laneKey(focused);
  const group = groups.find(g => g.lanes.some(l => laneKey(l) === key)) ?? groups[0]!;
  const place = group.lanes.findIndex(l => laneKey(l) === key);

  const goTo = useCallback((lane: Lane | null | undefined, play = false) => {
    if (!lane) return;
    setFocus(laneKey(lane));
    const track = trackOfLane(lane);
    if (track && play) void player.play(track);
    else if (track) player.load(track);
    else player.pause();
  }, []);

  useEffect(() => {
    fetchNear(group.lanes[place + 1]);
    fetchNear(nextWaiting(groups, key));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when another lane comes into focus
  }, [focus]);

  const latest = useRef(key);
  useEffect(() => {
    latest.current = key;
  });
  return {
    arrangement,
    setArrangement,
    filter,
    setFilter,
    groups,
    group,
    focused,
    goTo,
    /** To the lane so many further down. */
    move: (by: number) => goTo(group.lanes[place + by]),
    /** On to the next one that waits, and plays it. */
    toNextWaiting: () => goTo(nextWaiting(groups, key), true),
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
    toGroup: (id: string) => goTo(groups.find(g => g.id === id)?.lanes[0]),
  };
}

export type LaneFocus = ReturnType<typeof useLaneFocus>;
