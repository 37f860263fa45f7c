/** The learnt network that hears syllables (decisions 53 and 54). */
import { unpacked, type Layer } from './layers';
import stored from './syllableWeights.json';

export const SYLLABLE_NETWORK: readonly Layer[] = stored.layers.map(unpacked);
