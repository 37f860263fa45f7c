/** The learnt network that hears sounds of speech (decisions 43 and 54). */
import { unpacked, type Layer } from '../audio/layers';
import stored from './networkWeights.json';

/** From what lies around a frame, by one hidden layer, to logarithms of shares of the kinds. */
export const SOUND_NETWORK: readonly Layer[] = stored.layers.map(unpacked);

/** Of each kind, the logarithm of how often it is met. */
export const USUAL = Float32Array.from(stored.usual);
