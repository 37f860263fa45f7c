/**
 * What a voice sounds like each hundredth of a second, as far as a telephone carries it: cepstra of mel bands (S. B. Davis and
 * P. Mermelstein, "Comparison of parametric representations for monosyllabic word recognition in continuously spoken
 * sentences", IEEE Transactions on Acoustics, Speech and Signal Processing 28(4), 1980), each with its mean over the speech
 * taken out and brought to the same spread, so that a room, a microphone and a part of whose voice it is drop out (O. Viikki
 * and K. Laurila, "Cepstral domain segmental feature vector normalization", Speech Communication 25, 1998).
 */
import FFT from 'fft.js';
import { HALF_HZ, HalfSplitter } from '../audio/halves';

export const FRAME_SEC = 0.01;
/** Values of a frame. */
export const CEPSTRA = 13;
const HOP = FRAME_SEC * HALF_HZ;
const FFT_SIZE = 256;
const WINDOW = Float64Array.from({ length: 200 }, (_, k) => 0.54 - 0.46 * Math.cos((2 * Math.PI * k) / 199));
/** Of the window, so much lies before the moment of its frame. */
const BEFORE = 60;
const MELS = 22;
const LOWEST_HZ = 130;
const HIGHEST_HZ = 3_600;
/** A band that is softer than this beside the loudest there is says nothing. */
const RANGE = 1e-5;
/** High partials are soft: brought up as hearing has them. */
const EMPHASIS = 0.9;

const mel = (hz: number) => 1_127 * Math.log(1 + hz / 700);
const hzOf = (m: number) => 700 * (Math.exp(m / 1_127) - 1);

/** Of each band: its first bin, and the weights from there. */
const BANDS = (() => {
  const from = mel(LOWEST_HZ);
  const edges = Array.from({ length: MELS + 2 }, (_, k) => {
    const hz = hzOf(from + (k * (mel(HIGHEST_HZ) - from)) / (MELS + 1));
    return (hz * FFT_SIZE) / HALF_HZ;
  });
  return Array.from({ length: MELS }, (_, b) => {
    const [low, middle, high] = [edges[b]!, edges[b + 1]!, edges[b + 2]!];
    const first = Math.ceil(low);
    const weights: number[] = [];
    for (let k = first; k < high; k++)
      weights.push(k < middle ? (k - low) / (middle - low) : (high - k) / Math.max(1e-6, high - middle));
    return { first, weights };
  });
})();

const COSINES = Array.from({ length: CEPSTRA }, (_, c) =>
  Float64Array.from({ length: MELS }, (__, b) => Math.cos((Math.PI * c * (b + 0.5)) / MELS)),
);

/**
 * Takes a sound in pieces; keeps about 9 kB for a second of it.
 * @example
 * const meter = new CepstraMeter(); meter.push(samples); const cepstra = meter.finish();
 */
export class CepstraMeter {
  private readonly powers: Float32Array[] = [];
  private readonly fft = new FFT(FFT_SIZE);
  private readonly input = new Float64Array(FFT_SIZE);
  private readonly spectrum = new Float64Array(2 * FFT_SIZE);
  /** What came and is still needed; before the first sample there is silence. */
  private held = new Float32Array(BEFORE + 1);

  /** @param samples mono at 8 kHz */
  push(samples: Float32Array): void {
    const all = new Float32Array(this.held.length + samples.length);
    all.set(this.held);
    all.set(samples, this.held.length);
    const count = Math.max(0, Math.floor((all.length - 1 - WINDOW.length) / HOP) + 1);
    for (let f = 0; f < count; f++) this.powers.push(this.powersAt(all, 1 + f * HOP));
    this.held = all.slice(count * HOP);
  }

  private powersAt(samples: Float32Array, start: number): Float32Array {
    const { input, spectrum } = this;
    for (let k = 0; k < WINDOW.length; k++)
      input[k] = (samples[start + k]! - EMPHASIS * samples[start + k - 1]!) * WINDOW[k]!;
    this.fft.realTransform(spectrum, input);
    return Float32Array.from(BANDS, ({ first, weights }) => {
      let power = 0;
      for (let k = 0; k < weights.length; k++) {
        const at = 2 * (first + k);
        power += weights[k]! * (spectrum[at]! ** 2 + spectrum[at + 1]! ** 2);
      }
      return power;
    });
  }

  /** @returns `CEPSTRA` values for each frame, the first at 0 s; after this nothing more may come */
  finish(): Float32Array {
    this.push(new Float32Array(WINDOW.length - BEFORE));
    const count = this.powers.length;
    let loudest = 0;
    for (const powers of this.powers) for (const p of powers) loudest = Math.max(loudest, p);
    const floor = loudest * RANGE + 1e-12;
    const out = new Float32Array(count * CEPSTRA);
    const logs = new Float64Array(MELS);
    this.powers.forEach((powers, f) => {
      for (let b = 0; b < MELS; b++) logs[b] = Math.log(powers[b]! + floor);
      for (let c = 0; c < CEPSTRA; c++) {
        const cosines = COSINES[c]!;
        let sum = 0;
        for (let b = 0; b < MELS; b++) sum += cosines[b]! * logs[b]!;
        out[f * CEPSTRA + c] = sum;
      }
    });
    if (count > 0) normalise(out);
    return out;
  }
}

/** Of a whole sound. @param samples mono at 16 kHz */
export function cepstraOf(samples: Float32Array): Float32Array {
  const splitter = new HalfSplitter();
  const meter = new CepstraMeter();
  meter.push(splitter.push(samples).low);
  meter.push(splitter.finish().low);
  return meter.finish();
}

/** Where no moment stands out of the softest by 3 dB in each band, nobody speaks. */
const LEAST_RANGE = MELS * Math.log(2);
/** The level of a silence beside speech, in standard deviations of it. */
const SILENT = -5;

/** Takes out of each value what it is on average where somebody speaks: the louder half, from the softest to the loud moments. */
function normalise(cepstra: Float32Array): void {
  const count = cepstra.length / CEPSTRA;
  const levels = Float64Array.from({ length: count }, (_, f) => cepstra[f * CEPSTRA]!).sort();
  const [soft, loud] = [levels[0]!, levels[Math.floor(0.95 * (count - 1))]!];
  if (loud - soft < LEAST_RANGE) {
    // Without anybody who speaks there is no mean of their speech, and each moment would be one.
    for (let f = 0; f < count; f++)
      cepstra.fill(0, f * CEPSTRA, (f + 1) * CEPSTRA).fill(SILENT, f * CEPSTRA, f * CEPSTRA + 1);
    return;
  }
  const least = (soft + loud) / 2;
  const speaking = Uint32Array.from({ length: count }, (_, f) => f).filter(
    f => cepstra[f * CEPSTRA]! >= least,
  );
  for (let c = 0; c < CEPSTRA; c++) {
    let [sum, squares] = [0, 0];
    for (const f of speaking) {
      const v = cepstra[f * CEPSTRA + c]!;
      sum += v;
      squares += v * v;
    }
    const mean = sum / speaking.length;
    const spread = Math.sqrt(Math.max(0, squares / speaking.length - mean * mean)) + 1e-3;
    for (let f = 0; f < count; f++) cepstra[f * CEPSTRA + c] = (cepstra[f * CEPSTRA + c]! - mean) / spread;
  }
}
