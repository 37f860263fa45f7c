/**
 * What each term of `syllableLattice.ts` counts for, in the order of its places. Learnt by `./ecoute bench syllables` from
 * recordings of two people (English and Spanish, over the telephone; also quicker, slower and with an echo), synthetic voices of
 * eleven languages, some of them creaking or of breath alone, and the tests' own babble; how well they count is a row of `./ecoute bench measures`.
 */
// prettier-ignore
export const SYLLABLE_WEIGHTS: readonly number[] = [
  // nuclei so far apart: 50, 80, 110, 140, 170, 210, 260, 330, 420, 600 ms
  -5.858, -1.74, -0.282, -1.474, 0.976, -0.177, 0.785, -0.139, -0.741, -0.82,
  // a dip of 0, 0.5, 1, 2, 3.5, 6, 10 dB between them
  -5.694, -1.413, -2.535, 1.856, 1.038, 2.326, 4.415,
  // time without a pitch between them; how unlike they sound; that, where there is a dip
  4.308, 0.883, 1.892,
  // the first one 0, 40, 80, 140, 220 ms after the beginning of its stretch
  -1.158, -3.197, 1.711, 2.763, -0.995,
  // the last one so long before its end
  -0.215, -2.608, -0.225, -0.959, 1.786,
  // each: always; level, voice, periodicity, six bands, hiss, width
  -0.55, 0.244, 5.899, -1.771, 1.5, -2.188, -1.171, 3.058, 0.507, -1.203, -0.934, -3.664,
  // the squares of these
  0, 0.601, 3.525, -2.488, -0.56, -0.02, 0.295, 0.986, 0.313, -1.043, -0.507, -1.442,
];
