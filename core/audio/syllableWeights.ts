/**
 * What each term of `syllableLattice.ts` counts for, in the order of its places. Learnt by `./ecoute bench syllables` from
 * recordings of two people (English and Spanish, over the telephone; also quicker, slower and with an echo), synthetic voices of
 * eleven languages and the tests' own babble; how well they count is a row of `./ecoute bench measures`.
 */
// prettier-ignore
export const SYLLABLE_WEIGHTS: readonly number[] = [
  // nuclei so far apart: 50, 80, 110, 140, 170, 210, 260, 330, 420, 600 ms
  -5.23, -1.969, -0.671, -1.506, 0.573, -0.404, 0.521, -0.46, 0.099, -0.557,
  // a dip of 0, 0.5, 1, 2, 3.5, 6, 10 dB between them
  -5.556, -1.903, -2.358, 1.755, 1.084, 2.449, 4.081,
  // time without a pitch between them; how unlike they sound; that, where there is a dip
  1.837, 0.753, 2.042,
  // the first one 0, 40, 80, 140, 220 ms after the beginning of its stretch
  -1.298, -3.159, 1.802, 2.663, -0.888,
  // the last one so long before its end
  -0.364, -2.025, -0.479, -0.796, 1.431,
  // each: always; level, voice, periodicity, six bands, hiss, width
  -0.74, 0.346, 6.807, -0.642, 1.477, -2.073, -0.635, 2.698, 0.348, -0.987, -0.49, -3.211,
  // the squares of these
  0, 0.527, 2.77, -1.66, -0.464, 0.011, 0.401, 0.937, 0.239, -0.927, -0.328, -1.267,
];
