/**
 * Finds where a recorder's gate opened, and how far what it let through goes. Before that a take holds digital silence (the encoder makes zeros, or
 * values of 10⁻³⁰, of it); with the gate comes a tick, too soft to be noticed in a room and far louder than nothing.
 * What it cannot do: find a gate in a sound that does not begin with digital silence; it says so with null.
 */

/** Peak amplitude of the tick that the recorder puts into a take (−44 dBFS) … */
export const TICK_AMPLITUDE = 0.006;
export const TICK_HZ = 2_000;
export const TICK_SEC = 0.003;
/** … and what is louder than this is no silence. A quarter of it: encoders and resampling soften an edge. */
const OPEN_AMPLITUDE = TICK_AMPLITUDE / 4;
/** Encoders spread an edge by a little before it; what is softer than this counts as nothing. */
const SILENT_AMPLITUDE = 1e-4;
/** So much silence there is at the least before a gate. */
const LEAST_SILENCE_SEC = 0.02;

/**
 * Takes mono samples piece by piece.
 * @example
 * const gate = new GateFinder(48_000); gate.push(samples); gate.openedAtMs
 */
export class GateFinder {
  private count = 0;
  private silent = 0;
  private found: number | null = null;
  private sounding = 0;

  /** @param sampleRateHz samples a second of what will be pushed */
  constructor(private readonly sampleRateHz: number) {}

  /** @param samples mono, −1…1 */
  push(samples: Float32Array): void {
    for (let i = 0; i < samples.length && this.found === null; i++) {
      const magnitude = Math.abs(samples[i]!);
      if (magnitude < SILENT_AMPLITUDE && this.silent === this.count + i) this.silent += 1;
      if (magnitude >= OPEN_AMPLITUDE) this.found = this.count + i;
    }
    // From the end: mostly the first that is looked at.
    let last = samples.length;
    while (last > 0 && Math.abs(samples[last - 1]!) < SILENT_AMPLITUDE) last -= 1;
    if (last > 0) this.sounding = this.count + last;
    this.count += samples.length;
  }

  /** Ms from the beginning of the sound after which there is digital silence alone: all of it once a gate has shut. */
  get soundsUntilMs(): number {
    return (this.sounding / this.sampleRateHz) * 1000;
  }

  /** Ms from the beginning of the sound; null when it did not begin with silence, or was silent to its end. */
  get openedAtMs(): number | null {
    if (this.found === null || this.silent < LEAST_SILENCE_SEC * this.sampleRateHz) return null;
    return (this.found / this.sampleRateHz) * 1000;
  }
}
