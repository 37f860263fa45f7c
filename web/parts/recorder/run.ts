import { runOf, type Turn } from '@ecoute/core/timing/conversation';

/** The decoded sounds that turns are stretches of, by recording. */
export type TurnSounds = ReadonlyMap<string, AudioBuffer>;

/**
 * Fetches and decodes the sounds of a conversation, each once. Done before the run begins: nothing may be waited
 * for in the middle of it.
 * @throws SoundMissing in words when a sound cannot be had
 */
export async function loadTurns(context: AudioContext, turns: readonly Turn[]): Promise<TurnSounds> {
  const ids = [...new Set(turns.map(t => t.recordingId))];
  return new Map(await Promise.all(ids.map(async id => [id, await loadSound(context, id)] as const)));
}

/** What was to sound along with an answer could not be had. */
export class SoundMissing extends Error {
  constructor() {
    super('What sounds along with this answer could not be fetched. Check the connection and try again.');
  }
}

/** Fetches and decodes one sound. @throws SoundMissing in words */
export async function loadSound(context: AudioContext, id: string): Promise<AudioBuffer> {
  try {
    const response = await fetch(`/api/recordings/${id}/sound`);
    if (!response.ok) throw new SoundMissing();
    return await context.decodeAudioData(await response.arrayBuffer());
  } catch {
    throw new SoundMissing();
  }
}

export interface SoundingRun {
  /** Ms since the first sample of the run; negative before it. */
  positionMs(): number;
  stop(): void;
}

/**
 * Plays a conversation as one continuous run: every turn is scheduled at once on the context's clock, to the
 * sample, so that nothing on the page can delay one.
 * @param startSec when the run begins, in seconds of the context
 */
export function playRun(
  context: AudioContext,
  sounds: TurnSounds,
  turns: readonly Turn[],
  startSec: number,
): SoundingRun {
  const sources = runOf(turns).turns.flatMap(({ index, startMs }) => {
    const turn = turns[index]!;
    const buffer = sounds.get(turn.recordingId);
    if (!buffer || turn.toMs <= turn.fromMs) return [];
    const source = context.createBufferSource();
    source.buffer = buffer;
    source.connect(context.destination);
    source.start(startSec + startMs / 1000, turn.fromMs / 1000, (turn.toMs - turn.fromMs) / 1000);
    return [source];
  });
  return {
    positionMs: () => (context.currentTime - startSec) * 1000,
    stop() {
      for (const source of sources) {
        source.stop();
        source.disconnect();
      }
    },
  };
}
