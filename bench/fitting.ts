/** How the network of syllables is learnt: what `./ecoute bench syllables` runs, on core's own layers. */
import { soundingStretches } from '@ecoute/core/audio/activity';
import { framesAfter, through, type Layer } from '@ecoute/core/audio/layers';
import { SYLLABLE_NETWORK } from '@ecoute/core/audio/syllableNetwork';
import { seenIn, sharesOf, type Seen } from '@ecoute/core/audio/syllables';
import { analysed } from '@ecoute/core/testing/analysed';
import { randomFrom } from '@ecoute/core/testing/sounds';

export { babble, overNoise } from '@ecoute/core/testing/sounds';

export interface Example {
  /** Those of one group count as much together as those of another, times its weight. */
  group: string;
  syllables: number;
  /** The network never looks at more than this of the sound. */
  seen: Seen[];
}

/** @param samples mono at 16 kHz */
export function exampleOf(samples: Float32Array, syllables: number, group: string): Example {
  const { bands, pitch } = analysed(samples);
  return { group, syllables, seen: [...seenIn(bands, pitch, soundingStretches(bands))] };
}

/** The count of a recording, not rounded. */
export function counted({ seen }: Example, layers: readonly Layer[]): number {
  return seen.reduce((sum, s) => sum + sharesOf(s, layers).reduce((a, b) => a + b, 0), 0);
}

const EPOCHS = 18;
const AT_ONCE = 32;
const FASTEST = 3e-3;
/** Of all steps, in so many the pace rises. */
const RISING = 0.3;
/** How strongly weights are drawn to zero at each step, times the pace. */
const DECAY = 1e-4;
/** An error of so much of a count is a small one; far larger ones count by their size, not by its square. */
const SMALL = 0.05;

/** What a layer's weights change with. */
interface Slope {
  weights: Float64Array;
  own: Float64Array;
}

const slopesOf = (layers: readonly Layer[]): Slope[] =>
  layers.map(l => ({ weights: new Float64Array(l.weights.length), own: new Float64Array(l.own.length) }));

/** Layers of the same shape that know nothing yet (K. He et al., "Delving deep into rectifiers", ICCV 2015). */
function begun(random: () => number): Layer[] {
  return SYLLABLE_NETWORK.map((layer, i) => {
    const most = Math.sqrt(3 / (layer.taps * layer.inputs));
    const isLast = i === SYLLABLE_NETWORK.length - 1;
    return {
      ...layer,
      weights: layer.weights.map(() => most * (2 * random() - 1)),
      // Hardly a syllable at first: counts then rise towards the true ones.
      own: layer.own.map(() => (isLast ? -2 : 0)),
    };
  });
}

/**
 * Layers with which the counts come near to the true ones (AdamW: I. Loshchilov and F. Hutter, ICLR 2019).
 * @param groupWeights of groups that count more or less than 1
 */
export function fitted(
  examples: readonly Example[],
  groupWeights: Record<string, number>,
  onEpoch: (epoch: number, loss: number) => void,
): Layer[] {
  const random = randomFrom(1);
  const layers = begun(random);
  const [mean, square] = [slopesOf(layers), slopesOf(layers)];
  const sizes = new Map<string, number>();
  for (const e of examples) sizes.set(e.group, (sizes.get(e.group) ?? 0) + 1);
  const usual = examples.length / sizes.size;
  const steps = EPOCHS * Math.ceil(examples.length / AT_ONCE);
  let step = 0;
  for (let epoch = 1; epoch <= EPOCHS; epoch++) {
    let loss = 0;
    const order = examples
      .map(e => ({ e, at: random() }))
      .sort((a, b) => a.at - b.at)
      .map(({ e }) => e);
    for (let from = 0; from < order.length; from += AT_ONCE) {
      const some = order.slice(from, from + AT_ONCE);
      const slopes = slopesOf(layers);
      for (const e of some) {
        const weight = ((groupWeights[e.group] ?? 1) * usual) / sizes.get(e.group)! / some.length;
        loss += learnFrom(e, layers, slopes, weight) * some.length;
      }
      step += 1;
      move(layers, slopes, mean, square, step, paceAt(step / steps));
    }
    onEpoch(epoch, loss / examples.length);
  }
  return layers;
}

const paceAt = (done: number) =>
  FASTEST *
  (done < RISING ? done / RISING : 0.5 + 0.5 * Math.cos((Math.PI * (done - RISING)) / (1 - RISING)));

/** Adds how the loss of one example changes with each weight. @returns its loss */
function learnFrom(example: Example, layers: readonly Layer[], slopes: Slope[], weight: number): number {
  const seen = example.seen.map(({ frames }) => {
    const values = [frames];
    layers.forEach((layer, i) => values.push(through(layer, values[i]!, i < layers.length - 1)));
    return { values, shares: values.at(-1)!.map(z => 1 / (1 + Math.exp(-z))) };
  });
  const count = seen.reduce((sum, { shares }) => sum + shares.reduce((a, b) => a + b, 0), 0);
  const off = count / example.syllables - 1;
  const rounded = Math.hypot(off, SMALL);
  const by = (weight * off) / rounded / example.syllables;
  for (const { values, shares } of seen) {
    let slope: Float64Array = shares.map(p => by * p * (1 - p));
    for (let i = layers.length - 1; i >= 0; i--) {
      const isRectified = i < layers.length - 1;
      if (isRectified) slope = slope.map((s, k) => (values[i + 1]![k]! > 0 ? s : 0));
      slope = back(layers[i]!, values[i]!, slope, slopes[i]!);
    }
  }
  return weight * (rounded - SMALL);
}

/** One layer backwards: adds to its own slopes. @returns how the loss changes with what went in */
function back(layer: Layer, input: Float64Array, slope: Float64Array, own: Slope): Float64Array {
  const { inputs, outputs, taps, spread, stride, weights } = layer;
  const out = new Float64Array(input.length);
  const frames = framesAfter(layer, input.length / inputs);
  for (let t = 0; t < frames; t++)
    for (let o = 0; o < outputs; o++) {
      const s = slope[t * outputs + o]!;
      if (s === 0) continue;
      own.own[o]! += s;
      let w = o * taps * inputs;
      for (let tap = 0; tap < taps; tap++) {
        const begin = (t * stride + tap * spread) * inputs;
        for (let i = begin; i < begin + inputs; i++, w++) {
          own.weights[w]! += s * input[i]!;
          out[i]! += s * weights[w]!;
        }
      }
    }
  return out;
}

function move(
  layers: Layer[],
  slopes: Slope[],
  mean: Slope[],
  square: Slope[],
  step: number,
  pace: number,
): void {
  // One odd example must not throw everything over.
  const size = Math.sqrt(
    slopes.reduce((sum, s) => sum + [...s.weights, ...s.own].reduce((a, g) => a + g * g, 0), 0),
  );
  const scale = Math.min(1, 1 / (size + 1e-9));
  layers.forEach((layer, l) => {
    for (const kind of ['weights', 'own'] as const) {
      const [values, g, m, q] = [layer[kind], slopes[l]![kind], mean[l]![kind], square[l]![kind]];
      for (let k = 0; k < values.length; k++) {
        const slope = scale * g[k]!;
        m[k] = 0.9 * m[k]! + 0.1 * slope;
        q[k] = 0.999 * q[k]! + 0.001 * slope * slope;
        const by = m[k]! / (1 - 0.9 ** step) / (Math.sqrt(q[k]! / (1 - 0.999 ** step)) + 1e-8);
        values[k]! -= pace * (by + DECAY * values[k]!);
      }
    }
  });
}

/** As `core/audio/syllableWeights.json` has them: each output's weights as whole numbers of one byte, with a scale. */
export function asStored(layers: readonly Layer[]): string {
  const short = (value: number) => Number(value.toPrecision(5));
  const stored = layers.map(({ weights, own, ...shape }) => {
    const each = shape.taps * shape.inputs;
    const scale = Array.from(own, (_, o) => {
      const row = weights.subarray(o * each, (o + 1) * each);
      return short(Math.max(1e-9, ...row.map(Math.abs)) / 127);
    });
    const bytes = Int8Array.from(weights, (w, i) => Math.round(w / scale[Math.floor(i / each)]!));
    return {
      ...shape,
      scale,
      own: Array.from(own, short),
      weights: Buffer.from(bytes.buffer).toString('base64'),
    };
  });
  return JSON.stringify({ layers: stored });
}
