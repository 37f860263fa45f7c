/** The learnt network (decision 43): whole numbers, each column with its own scale. */
import { signedBytes } from '../audio/learnt';
import stored from './networkWeights.json';

/** A network with one hidden layer: rectified sums, then logarithms of shares. */
export interface Network {
  /** For each input its weight to each hidden unit, one after the other; then the hidden units' own. */
  toHidden: Float32Array;
  hiddenOwn: Float32Array;
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

export const NETWORK: Network = {
  toHidden: unpacked(stored.toHidden),
  hiddenOwn: Float32Array.from(stored.hiddenOwn),
  toSounds: unpacked(stored.toSounds),
  soundsOwn: Float32Array.from(stored.soundsOwn),
  usual: Float32Array.from(stored.usual),
};
