import { runOf, type Turn } from '@ecoute/core/timing/conversation';

/** The decoded sounds that turns are stretches of, by recording. */
export type TurnSounds = ReadonlyMap<string, AudioBuffer>;

/**
 * Fetches and decodes the sounds of a conversation, each once. Done before the run begins: nothing may be waited
 * for in the middle of it.
 * @throws Error in words when a sound cannot be had
 */
export async function loadTurns(context: AudioContext, turns: readonly Turn[]): Promise<TurnSounds> {
  const ids = [...new Set(turns.map(t => t.recordingId))];
  const sounds = await Promise.all(
    ids.map(async id => {
      const response = await fetch(`/api/recordings/${id}/sound`);
      if (!response.ok)
        throw new Error(
          'A turn of this conversation could not be fetched. Check the connection and try again.',
        );
      return [id, await context.decodeAudioData(await response.arrayBuffer())] as const;
    }),
  );
  return new Map(sounds);
}

export interface SoundingRun {
  /** Ms since the first sample of the run; negative before it. */
  positionMs(): number;
  stop(): void;
}

/**
 * Plays a conversation as one continuous run: every turn is scheduled at once on the context's clock, to the
 * sample, so that nothing on the page can delay one.
 * @param leadMs the run begins this long from now
 */
export function playRun(
  context: AudioContext,
  sounds: TurnSounds,
  turns: readonly Turn[],
  leadMs: number,
): SoundingRun {
  const startSec = context.currentTime + leadMs / 1000;
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
