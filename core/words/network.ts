/** The learnt network that hears sounds of speech (decisions 43 and 57). */
import { unpacked, type Layer } from '../audio/layers';
import stored from './networkWeights.json';

/** From frames, by four layers that look further and further around, to logarithms of shares of the kinds, two frames as one. */
export const SOUND_NETWORK: readonly Layer[] = stored.layers.map(unpacked);

/** Of each kind, the logarithm of how often it is met. */
export const USUAL = Float32Array.from(stored.usual);
