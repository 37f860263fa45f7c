/** Scales for an overall level. Names are those of the Common European Framework; the words are Ecoute's own. */

export interface ScaleLevel {
  name: string;
  descriptor: string;
}

export const CEFR: readonly ScaleLevel[] = [
  { name: 'Before A1', descriptor: 'Single words, or nothing yet; needs another language to answer.' },
  { name: 'A1', descriptor: 'Says who and where with set phrases; waits for help, and the help works.' },
  {
    name: 'A2',
    descriptor:
      'Short sentences about daily life that hang together with “and” and “but”; pauses to find words.',
  },
  {
    name: 'B1',
    descriptor: 'Tells what happened and why, keeps going alone, mends own slips; a stranger follows.',
  },
  {
    name: 'B2',
    descriptor: 'Argues a view at an easy pace, picks words with care; slips do not stand in the way.',
  },
  { name: 'C1', descriptor: 'Speaks at length, well ordered, in the tone of the occasion; seldom searches.' },
  { name: 'C2', descriptor: 'Shades of meaning without effort, also when the subject turns hard.' },
];
