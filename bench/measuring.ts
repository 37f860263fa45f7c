/** What the bench of measures needs of core. */
export { Measurer } from '@ecoute/core/audio/measure';
export {
  babble,
  melody,
  overNoise,
  randomFrom,
  strokesAt,
  tone,
  TONES,
  withNoise,
} from '@ecoute/core/testing/sounds';
export { correlationOf } from '@ecoute/core/statistics/spread';
export { scoreOf } from '@ecoute/core/testing/scores';
