/** What the figures of a release say, in words that need no statistics. */
import { percentOfShare } from '@ecoute/core/scoring/shares';
import { LEAST_STUDENTS } from '@ecoute/core/statistics/enough';
import type { Reliability } from '@ecoute/core/statistics/reliability';
import type { ReleaseFigures } from '@ecoute/core/statistics/release';
import { inFigures } from '../../../parts/figureWords';

/** Hundredths of points with one decimal where these are not whole. */
export const pointFigure = (hundredths: number) => {
  const points = hundredths / 100;
  return inFigures(points, Number.isInteger(Math.round(points * 10) / 10) ? 0 : 1);
};

export const percent = (share: number) => `${percentOfShare(Math.max(0, Math.min(1, share)))} %`;

/**
 * How well an item tells strong from weak, in a word: poor below 0.2, very good from 0.4 (R. L. Ebel, Essentials of
 * Educational Measurement, 1979).
 */
export function tellsWord(correlation: number): string {
  if (correlation < -0.1) return 'the other way round';
  if (correlation < 0.2) return 'hardly';
  return correlation < 0.4 ? 'somewhat' : 'well';
}

/** How far a sum can be trusted, in a sentence with its figures. */
export function trustWords({ alpha, low, high, errorOf }: Reliability): string {
  const how =
    alpha < 0.5
      ? 'The items say rather different things of the same students, so their sum says little of any one of them.'
      : alpha < 0.8
        ? 'The items agree in part: good for talking about it, thin for a decision about somebody.'
        : 'The items agree well about who is strong and who is not.';
  return `${how} Alpha ${inFigures(alpha, 2)}, with this many students between ${inFigures(low, 2)} and ${inFigures(high, 2)}. Sat again, a student’s points would mostly lie within ${pointFigure(errorOf)} of what they are.`;
}

/** Why nothing is said of how far the sum can be trusted. */
export function noTrustWords({ marked, items, spread }: ReleaseFigures): string {
  const carrying = items.filter(i => i.share !== null || i.bars.length > 0).length;
  if (marked < LEAST_STUDENTS)
    return `Too few to say: ${LEAST_STUDENTS} students must be wholly marked, and ${marked} ${marked === 1 ? 'is' : 'are'}.`;
  if (carrying < 2) return 'With one item that carries points there is nothing to hold it against.';
  return spread === 0
    ? 'Everybody has the same points, so these do not tell anybody apart.'
    : 'This cannot be said of these answers.';
}

/** One sentence for each column of the table of items. */
export const ITEM_SENTENCES: readonly [string, string][] = [
  ['reached', 'How much of its points the class reached on average. Low: hard, or not yet learnt.'],
  [
    'spread',
    'How far from that average students usually lie, in points. Near 0: everybody did about the same.',
  ],
  [
    'tells strong from weak',
    'Whether those who did well on all the rest did well here too, from −1 to 1. Hardly or the other way round: listen to it again, the item may be misunderstood.',
  ],
  ['takes', 'How often it was recorded by a student in the middle of the class.'],
  ['hearings', 'How often that student heard the prompt.'],
  [
    'time used',
    'How long they spoke, and how much of the limit that is. Near 100 %: the limit may be too tight.',
  ],
];

export const CRITERION_SENTENCE =
  'Each bar is every level that was given on this criterion, from the lowest at the left. “Reached” is the average of its points; “tells strong from weak” is whether who is high here is high on the other criteria too.';
