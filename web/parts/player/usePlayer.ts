import { useEffect, useState, useSyncExternalStore } from 'react';
import { soundingLevelDbfs, type Peaks } from '@ecoute/core/audio/peaks';
import { Pair } from './pair';
import { Player, type PlayerState, type Track } from './player';

function element(): HTMLVideoElement {
  const made = document.createElement('video');
  made.playsInline = true;
  made.className = 'size-full bg-[#000] object-contain';
  return made;
}

const elements = [element(), element()] as const;
const pair = new Pair(...elements);

/** What sounds just now, and what its film is seen on: it moves to where that is shown. */
export const screen = (): HTMLVideoElement => pair.element;

/** Where the elements are while no film is shown: in the page, for taking one out would pause it. */
const parked = document.body.appendChild(document.createElement('div'));
parked.hidden = true;

/** Takes an element out of the place of a film; what sounds goes on. */
export function park(...all: HTMLVideoElement[]): void {
  parked.append(...all);
}
park(...elements);

let gain: GainNode | null = null;

/**
 * Makes what plays louder or softer. Only from the first time that it is needed does the sound go through the audio
 * graph; a limiter at its end keeps what was made louder from clipping.
 */
function amplify(by: number): void {
  if (!gain) {
    if (by === 1) return;
    const context = new AudioContext();
    const limiter = new DynamicsCompressorNode(context, {
      threshold: -3,
      knee: 0,
      ratio: 20,
      attack: 0.002,
      release: 0.1,
    });
    gain = new GainNode(context);
    gain.connect(limiter).connect(context.destination);
    for (const one of elements) context.createMediaElementSource(one).connect(gain);
  }
  void (gain.context as AudioContext).resume();
  gain.gain.setTargetAtTime(by, gain.context.currentTime, 0.01);
}

/** Sounds that were fetched ahead, the newest last; as many as are soon heard. */
const ahead = new Map<string, string>();
const MOST_AHEAD = 8;

/**
 * Fetches a sound before it is asked for, so that it begins at once: from this device's memory, without asking the server
 * again whether it has changed.
 */
export async function fetchAhead({ id, url }: Pick<Track, 'id' | 'url'>): Promise<void> {
  if (ahead.has(id)) return;
  const response = await fetch(url);
  if (!response.ok || ahead.has(id)) return;
  ahead.set(id, URL.createObjectURL(await response.blob()));
  const [oldest] = ahead.keys();
  if (ahead.size <= MOST_AHEAD || oldest === undefined || oldest === player.now().track?.id) return;
  URL.revokeObjectURL(ahead.get(oldest)!);
  ahead.delete(oldest);
}

const sourceOf = (track: Pick<Track, 'id' | 'url'>) => ahead.get(track.id) ?? track.url;

export const player = new Player(pair, amplify, sourceOf);

let readied: string | null = null;

/** Has the sound that is likely heard next ready to begin: fetched, and decoded as far as it can be without being heard. */
export async function getReady(track: Track): Promise<void> {
  readied = track.id;
  await fetchAhead(track);
  // Another is likelier by now, or this one is there.
  if (readied === track.id && player.now().track?.id !== track.id) pair.prepare(sourceOf(track));
}

/** Plays a sound from a moment, in ms. */
export function playFrom(track: Track, ms: number): void {
  player.load(track);
  player.seek(ms);
  void player.play();
}

export function usePlayer(): PlayerState {
  return useSyncExternalStore(player.subscribe, player.now);
}

/**
 * One thing about the player: whoever asks is drawn again only when it changes, and not with every tick of what plays.
 * @param select gives a plain value
 */
export function usePlayed<T extends string | number | boolean | null>(select: (state: PlayerState) => T): T {
  return useSyncExternalStore(player.subscribe, () => select(player.now()));
}

/** The position in one sound, at the screen's rate while it plays; null while another is the present one. */
export function usePositionOf(id: string | null): number | null {
  return usePlayed(({ track, positionMs }) => (id !== null && track?.id === id ? positionMs : null));
}

const known = new Map<string, Promise<Peaks>>();

/**
 * The stored peaks of a recording; asked for once. They may not be there yet: then it is tried again.
 * @param lengthMs of what is heard of it: a take that was cut has other peaks than before
 */
export function fetchPeaks(id: string, lengthMs: number | null = null): Promise<Peaks> {
  const url = `/api/recordings/${id}/peaks${lengthMs === null ? '' : `?ms=${Math.round(lengthMs)}`}`;
  const asked =
    known.get(url) ??
    fetch(url).then(async response => {
      if (!response.ok) throw new Error(`HTTP ${response.status}`);
      const peaks = (await response.json()) as Peaks;
      player.setLevel(id, soundingLevelDbfs(peaks));
      return peaks;
    });
  known.set(url, asked);
  asked.catch(() => known.delete(url));
  return asked;
}

export function usePeaks(id: string | null, lengthMs: number | null = null): Peaks | null {
  const [loaded, setLoaded] = useState<{ id: string; peaks: Peaks } | null>(null);
  useEffect(() => {
    if (!id) return;
    let current = true;
    let timer: ReturnType<typeof setTimeout>;
    const ask = (n: number) =>
      fetchPeaks(id, lengthMs)
        .then(peaks => current && setLoaded({ id, peaks }))
        .catch(() => {
          if (current && n < 20) timer = setTimeout(() => ask(n + 1), 1_500);
        });
    ask(0);
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [id, lengthMs]);
  return loaded && loaded.id === id ? loaded.peaks : null;
}
