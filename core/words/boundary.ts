/** What stands behind a word of a text. */
export type Boundary = 'sentence' | 'clause' | 'inside';

const SENTENCE = /[.!?…。！？؟۔।॥]/;
const CLAUSE = /[,;:،؛、，；：—–]|\n/;

/** What ends at the signs between two words. */
export function boundaryIn(signs: string): Boundary {
  if (SENTENCE.test(signs)) return 'sentence';
  return CLAUSE.test(signs) ? 'clause' : 'inside';
}
