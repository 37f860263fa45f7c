/** What in a mark asks for a reason: points beside the rubric's, and a finished score that is changed. */
import { scoreProblem, type Hundredths } from './points';
import { rubricScore, type Choice, type Rubric, type Scoring } from './scheme';

/** Points and levels of one mark. */
export interface Score {
  /** In hundredths; null for none. */
  points: Hundredths | null;
  choices: readonly Choice[];
}

/** Whether points differ from what the choices on a rubric give. False while the rubric gives nothing yet. */
export function overrides(score: Score, rubric: Rubric | null, carries: Hundredths): boolean {
  const given = rubric && rubricScore(rubric, score.choices, carries);
  return given != null && score.points !== null && given !== score.points;
}

/** Whether one score says something else than another; the order of choices says nothing. */
export function isChanged(before: Score, after: Score): boolean {
  if (before.points !== after.points || before.choices.length !== after.choices.length) return true;
  return after.choices.some(
    c => before.choices.find(b => b.criterionId === c.criterionId)?.level !== c.level,
  );
}

/**
 * Why a finished mark asks for a reason.
 * @param before the finished score that it takes the place of; null for a first one
 */
export function reasonFor(
  before: Score | null,
  after: Score,
  rubric: Rubric | null,
  carries: Hundredths,
): 'override' | 'change' | null {
  // What said nothing before is no score that changes.
  const said = before !== null && (before.points !== null || before.choices.length > 0);
  if (said && isChanged(before, after)) return 'change';
  // An override that was explained once is not asked about again.
  return !before && overrides(after, rubric, carries) ? 'override' : null;
}

/** Names of the criteria that have no level yet. */
function unchosen(rubric: Rubric | null, choices: readonly Choice[]): string[] {
  return (rubric?.criteria ?? []).filter(c => !choices.some(x => x.criterionId === c.id)).map(c => c.name);
}

/** Which field of a mark stands in the way, and what to do. */
export interface MarkProblem {
  field: 'points' | 'reason';
  message: string;
}

/**
 * Why a mark cannot be kept as it is, or cannot be finished; null when it can. The page asks before it sends, the server
 * when it comes.
 * @param before the finished score that it takes the place of; null for a first one
 * @param finishes whether it is to be finished, not only kept
 */
export function markProblem(
  before: Score | null,
  after: Score & { reason: string },
  {
    scoring,
    carries,
    finishes,
  }: { scoring: Pick<Scoring, 'kind' | 'rubric'>; carries: Hundredths; finishes: boolean },
): MarkProblem | null {
  const wrong = after.points === null ? null : scoreProblem(after.points, carries);
  if (wrong) return { field: 'points', message: wrong };
  if (!finishes) return null;
  if (carries > 0 && after.points === null) {
    const missing = scoring.kind === 'rubric' ? unchosen(scoring.rubric, after.choices) : [];
    return {
      field: 'points',
      message:
        scoring.kind === 'done'
          ? 'Say done or not done before you finish this answer.'
          : missing.length > 0
            ? `Choose a level for ${missing.map(name => `“${name}”`).join(', ')}, or give points, before you finish this answer.`
            : 'Give points before you finish this answer.',
    };
  }
  const asked = reasonFor(before, after, scoring.rubric, carries);
  if (!asked || after.reason.trim() !== '') return null;
  return {
    field: 'reason',
    message:
      asked === 'change'
        ? 'Say why the score changes: it is kept with the one before.'
        : 'Say why these are not the points that the rubric gives.',
  };
}

/**
 * The overall level that recordings suggest: the highest that any of them shows.
 * @param shown the level that each recording shows; null where nobody has said
 */
export function highestShown(shown: readonly (number | null)[]): number | null {
  const said = shown.filter(level => level !== null);
  return said.length === 0 ? null : Math.max(...said);
}
