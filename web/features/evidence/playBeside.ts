import type { Track } from '../../parts/player/player';
import { playFrom, player } from '../../parts/player/usePlayer';

/** So much of the model is heard before the recording beside it. */
const HEARD_MS = 2_000;
const LEAD_MS = 100;

let stopWaiting: () => void = () => undefined;

/** Plays a little of the model, and then what lies beside it; whatever is played meanwhile puts an end to it. */
export function playBeside(model: Track, modelSec: number, then: () => void): void {
  stopWaiting();
  const fromMs = Math.max(0, 1000 * modelSec - LEAD_MS);
  playFrom(model, fromMs);
  const stops = [
    player.subscribe(() => {
      const { track, positionMs } = player.now();
      if (track?.id !== model.id) stopWaiting();
      else if (positionMs >= fromMs + HEARD_MS) goOn();
    }),
    player.onEnd(id => {
      if (id === model.id) goOn();
    }),
  ];
  stopWaiting = () => stops.forEach(stop => stop());
  const goOn = () => {
    stopWaiting();
    then();
  };
}
