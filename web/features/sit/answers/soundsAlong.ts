import { isRun } from '@ecoute/core/timing/strip';
import type { Item } from '@ecoute/contract/assessments';

/** True where something sounds while the student is recorded: headphones then keep it out of the answer. */
export function soundsAlong(item: Item): boolean {
  if (isRun(item)) return true;
  const music = item.music;
  return music !== null && (music.metronome !== null || music.drone !== null || music.backing !== null);
}
