/** The learnt network that hears syllables (decision 53), and how a sound goes through its layers. */
import stored from './syllableWeights.json';

/** A convolution over time: each output frame is a weighted sum of some input frames. */
export interface Layer {
  inputs: number;
  outputs: number;
  /** Input frames that are summed, and how far apart they lie. */
  taps: number;
  spread: number;
  /** Input frames from one output to the next. */
  stride: number;
  /** By output, tap and input. */
  weights: Float64Array;
  /** What each output begins from. */
  own: Float64Array;
}

type Stored = Omit<Layer, 'weights' | 'own'> & { scale: number[]; weights: string; own: number[] };

function unpacked({ scale, weights, own, ...shape }: Stored): Layer {
  const bytes = Uint8Array.from(atob(weights), c => c.charCodeAt(0));
  const each = shape.taps * shape.inputs;
  return {
    ...shape,
    weights: Float64Array.from(new Int8Array(bytes.buffer), (w, i) => w * scale[Math.floor(i / each)]!),
    own: Float64Array.from(own),
  };
}

/** The one layer after the other; all but the last are rectified. */
export const SYLLABLE_NETWORK: readonly Layer[] = stored.layers.map(unpacked);

/** Input frames that one output frame looks at. */
export const reachOf = ({ taps, spread }: Layer) => (taps - 1) * spread + 1;

/** Frames that come out of so many. */
export const framesAfter = (layer: Layer, frames: number) =>
  Math.max(0, Math.floor((frames - reachOf(layer)) / layer.stride) + 1);

/** @param input frames one after the other; what reaches beyond them is not made */
export function through(layer: Layer, input: Float64Array, isRectified: boolean): Float64Array {
  const { inputs, outputs, taps, spread, stride, weights, own } = layer;
  const frames = framesAfter(layer, input.length / inputs);
  const out = new Float64Array(frames * outputs);
  const each = taps * inputs;
  // Four sums at a time: what is read of the input serves all of them, which takes a third of the time.
  const byFour = outputs - (outputs % 4);
  for (let t = 0; t < frames; t++) {
    const from = t * stride * inputs;
    for (let o = 0; o < byFour; o += 4) {
      let [a, b, c, d] = [own[o]!, own[o + 1]!, own[o + 2]!, own[o + 3]!];
      let w = o * each;
      for (let tap = 0; tap < taps; tap++) {
        const begin = from + tap * spread * inputs;
        for (let i = begin; i < begin + inputs; i++, w++) {
          const x = input[i]!;
          a += weights[w]! * x;
          b += weights[w + each]! * x;
          c += weights[w + 2 * each]! * x;
          d += weights[w + 3 * each]! * x;
        }
      }
      const at = t * outputs + o;
      out[at] = a;
      out[at + 1] = b;
      out[at + 2] = c;
      out[at + 3] = d;
    }
    for (let o = byFour; o < outputs; o++) {
      let sum = own[o]!;
      let w = o * each;
      for (let tap = 0; tap < taps; tap++) {
        const begin = from + tap * spread * inputs;
        for (let i = begin; i < begin + inputs; i++, w++) sum += weights[w]! * input[i]!;
      }
      out[t * outputs + o] = sum;
    }
  }
  if (isRectified) for (let i = 0; i < out.length; i++) if (out[i]! < 0) out[i] = 0;
  return out;
}
