/** The learnt network (decisions 43 and 54): whole numbers, each column with its own scale. */
import { signedBytes } from '../audio/learnt';
import stored from './networkWeights.json';

/** A network with one hidden layer: rectified sums, then logarithms of shares. */
export interface Network {
  /** For each hidden unit the weights of all inputs, one after the other; then the hidden units' own. */
  toHidden: Float64Array;
  hiddenOwn: Float32Array;
  /** For each hidden unit its weight to each kind of sound. */
  toSounds: Float32Array;
  soundsOwn: Float32Array;
  /** Logarithm of how often each kind is met. */
  usual: Float32Array;
}

interface Column {
  scale: readonly number[];
  /** Bytes with a sign, base64. */
  weights: string;
}

function unpacked({ scale, weights }: Column): Float32Array {
  return Float32Array.from(signedBytes(weights), (w, i) => w * scale[i % scale.length]!);
}

/** Stored by input, read by hidden unit. */
function turned(weights: Float32Array, units: number): Float64Array {
  const inputs = weights.length / units;
  return Float64Array.from(weights, (_, k) => weights[(k % inputs) * units + Math.floor(k / inputs)]!);
}

export const NETWORK: Network = {
  toHidden: turned(unpacked(stored.toHidden), stored.hiddenOwn.length),
  hiddenOwn: Float32Array.from(stored.hiddenOwn),
  toSounds: unpacked(stored.toSounds),
  soundsOwn: Float32Array.from(stored.soundsOwn),
  usual: Float32Array.from(stored.usual),
};
