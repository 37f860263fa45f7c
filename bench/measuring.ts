/** What the bench of measures needs of core. */
export { soundingStretches } from '@ecoute/core/audio/activity';
export { Measurer } from '@ecoute/core/audio/measure';
export { babble, melody, overNoise, randomFrom, tone, TONES, withNoise } from '@ecoute/core/testing/sounds';
export { heldAgainst } from '@ecoute/core/audio/target';
