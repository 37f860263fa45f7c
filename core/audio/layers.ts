/** Learnt networks of layers over time: how they are kept, and how a sound goes through them. */

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

/** A layer as files of the tree keep it: weights are bytes with a sign in base64, each output has its own scale. */
export function unpacked({ scale, weights, own, ...shape }: Stored): Layer {
  const each = shape.taps * shape.inputs;
  const bytes = new Int8Array(Uint8Array.from(atob(weights), c => c.charCodeAt(0)).buffer);
  return {
    ...shape,
    weights: Float64Array.from(bytes, (w, i) => w * scale[Math.floor(i / each)]!),
    own: Float64Array.from(own),
  };
}

/** Input frames that one output frame looks at. */
export const reachOf = ({ taps, spread }: Layer) => (taps - 1) * spread + 1;

/** Frames that come out of so many. */
export const framesAfter = (layer: Layer, frames: number) =>
  Math.max(0, Math.floor((frames - reachOf(layer)) / layer.stride) + 1);

/** The one layer after the other; all but the last are rectified. @param input as of `through` */
export const throughAll = (layers: readonly Layer[], input: Float64Array): Float64Array =>
  layers.reduce((values, layer, i) => through(layer, values, i < layers.length - 1), input);

/** @param input frames one after the other; what reaches beyond them is not made */
export function through(layer: Layer, input: Float64Array, isRectified: boolean): Float64Array {
  const { inputs, outputs } = layer;
  const frames = framesAfter(layer, input.length / inputs);
  const out = new Float64Array(frames * outputs);
  // Two frames and four outputs at a time: what is read serves several sums.
  const paired = frames - (frames % 2);
  const byFour = outputs - (outputs % 4);
  for (let t = 0; t < paired; t += 2) for (let o = 0; o < byFour; o += 4) eightSums(layer, input, t, o, out);
  for (let t = 0; t < frames; t++)
    for (let o = t < paired ? byFour : 0; o < outputs; o++) out[t * outputs + o] = sumAt(layer, input, t, o);
  if (isRectified) for (let i = 0; i < out.length; i++) if (out[i]! < 0) out[i] = 0;
  return out;
}

/** Of frames t and t + 1, outputs o to o + 3. */
function eightSums(layer: Layer, input: Float64Array, t: number, o: number, out: Float64Array): void {
  const { inputs, outputs, taps, spread, stride, weights, own } = layer;
  const each = taps * inputs;
  const next = stride * inputs;
  let [a, b, c, d] = [own[o]!, own[o + 1]!, own[o + 2]!, own[o + 3]!];
  let [e, f, g, h] = [a, b, c, d];
  let w = o * each;
  for (let tap = 0; tap < taps; tap++) {
    const begin = (t * stride + tap * spread) * inputs;
    for (let i = begin; i < begin + inputs; i++, w++) {
      const x = input[i]!;
      const y = input[i + next]!;
      const p = weights[w]!;
      const q = weights[w + each]!;
      const r = weights[w + 2 * each]!;
      const s = weights[w + 3 * each]!;
      a += p * x;
      b += q * x;
      c += r * x;
      d += s * x;
      e += p * y;
      f += q * y;
      g += r * y;
      h += s * y;
    }
  }
  const at = t * outputs + o;
  out[at] = a;
  out[at + 1] = b;
  out[at + 2] = c;
  out[at + 3] = d;
  out[at + outputs] = e;
  out[at + outputs + 1] = f;
  out[at + outputs + 2] = g;
  out[at + outputs + 3] = h;
}

function sumAt(layer: Layer, input: Float64Array, t: number, o: number): number {
  const { inputs, taps, spread, stride, weights, own } = layer;
  let sum = own[o]!;
  let w = o * taps * inputs;
  for (let tap = 0; tap < taps; tap++) {
    const begin = (t * stride + tap * spread) * inputs;
    for (let i = begin; i < begin + inputs; i++, w++) sum += weights[w]! * input[i]!;
  }
  return sum;
}
