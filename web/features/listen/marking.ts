import { fromHundredths, parsePoints, pointsText, toHundredths } from '@ecoute/core/scoring/points';
import { markProblem, reasonFor, type MarkProblem } from '@ecoute/core/scoring/changes';
import type { Choice, Scoring } from '@ecoute/core/scoring/scheme';
import type { Mark, SaveMark } from '@ecoute/contract/marking';
import { Kept, type KeptView, type Shelf } from '../../base/kept/kept';
import { refusalOf, type Refusal } from '../../base/refusal';

const PAUSE_MS = 900;

/** What a teacher has typed on a lane. */
export interface MarkDraft {
  points: string;
  comment: string;
  /** Levels chosen on the rubric. */
  choices: Choice[];
  /** Why the score is another than before, or than the rubric gives. */
  reason: string;
}

export interface MarkingOptions {
  /** The mark that the server has; null for none. */
  mark: Mark | null;
  /** Stores a mark. Throws a `Refusal`; one that is `stale` carries the mark that is there. */
  save: (mark: SaveMark) => Promise<Mark>;
  /** Points that the item carries under its scheme; 0 where none are given. */
  carries: number;
  scoring: Pick<Scoring, 'kind' | 'rubric'>;
  shelf: Shelf<MarkDraft>;
}

const shown = (mark: Mark | null): MarkDraft => ({
  points: mark?.points == null ? '' : pointsText(toHundredths(mark.points)),
  comment: mark?.comment ?? '',
  choices: mark?.choices ?? [],
  reason: '',
});

const stored = (mark: Mark | null) => ({ value: shown(mark), revision: mark?.revision ?? 0 });

/** What a finished mark says; null for one that is not. */
const scoreOf = (mark: Mark | null) =>
  mark?.finished
    ? { points: mark.points === null ? null : toHundredths(mark.points), choices: mark.choices ?? [] }
    : null;

/**
 * Points and comment of one lane. An unfinished mark saves itself as it is typed; a finished one changes only by
 * finishing again, so that its history stays readable.
 */
export class Marking {
  readonly kept: Kept<MarkDraft, 'finish'>;
  /** What the server had when it was last heard of. */
  private holding: Mark | null;
  /** It was to be finished and could not be: what misses is said until it is there. */
  private isWanted = false;

  constructor(private readonly options: MarkingOptions) {
    this.holding = options.mark;
    this.kept = new Kept<MarkDraft, 'finish'>({
      stored: stored(options.mark),
      send: async (draft, revision, act) => {
        this.holding = await options.save(this.asSaved(draft, revision, act === 'finish'));
        // A reason explains one change; the next one wants its own.
        return {
          value: act === 'finish' ? { ...draft, reason: '' } : draft,
          revision: this.holding.revision,
        };
      },
      theirs: ({ current }) => {
        if (!current) return null;
        this.holding = current as Mark;
        return stored(this.holding);
      },
      problem: (draft, act) => asRefusal(this.problemIn(draft, act === 'finish')),
      isAutomatic: () => !this.holding?.finished,
      shelf: options.shelf,
      pauseMs: PAUSE_MS,
    });
  }

  get isFinished(): boolean {
    return this.holding?.finished ?? false;
  }

  /** A colleague's mark comes in while this one stands untouched: it is shown. What is typed here is never replaced. */
  offer(mark: Mark | null): void {
    if (mark && this.kept.offer(stored(mark))) this.holding = mark;
  }

  change(part: Partial<MarkDraft>): void {
    this.kept.change({ ...this.kept.now().value, ...part });
  }

  /**
   * Finishes the mark; what is wrong with it here is said as what the server refuses is.
   * @returns whether the server took it, in the end; null where it was not even sent
   */
  finish(): Promise<boolean> | null {
    const { value, state } = this.kept.now();
    this.isWanted = this.problemIn(value, true) !== null;
    const sent = state === 'conflict' ? this.kept.settle('here', 'finish') : this.kept.push('finish');
    if (!this.isWanted) return sent;
    // It is not finished, and not lost either.
    setTimeout(() => this.kept.nudge(), PAUSE_MS);
    return null;
  }

  /**
   * Takes the finishing back that was just done: the score stands as it was typed, unfinished.
   * @returns why it stays finished; null where it does not
   */
  async takeBack(): Promise<string | null> {
    const { value } = this.kept.now();
    // Not with the server yet: what goes out now is not finished.
    if (!(await this.kept.flush())) {
      this.kept.change(value);
      return null;
    }
    try {
      this.holding = await this.options.save(this.asSaved(value, this.holding!.revision, false));
    } catch (error) {
      return refusalOf(error)?.message ?? 'Ecoute does not answer just now.';
    }
    this.kept.offer(stored(this.holding));
    return null;
  }

  private asSaved({ points, ...draft }: MarkDraft, revision: number, finished: boolean): SaveMark {
    const given = parsePoints(points);
    return { ...draft, revision, finished, points: given === null ? null : fromHundredths(given) };
  }

  /** Criteria that have no level yet, where it was to be finished without them. */
  missing({ choices }: MarkDraft): string[] {
    const { rubric } = this.options.scoring;
    if (!this.isWanted || !rubric) return [];
    return rubric.criteria.filter(c => !choices.some(x => x.criterionId === c.id)).map(c => c.id);
  }

  /** Why the score as it stands asks for a reason; null where it does not. */
  asked({ points, choices }: MarkDraft) {
    const score = { points: parsePoints(points), choices };
    const { scoring, carries } = this.options;
    return reasonFor(scoreOf(this.holding), score, scoring.rubric, toHundredths(carries));
  }

  /** What stands in the way of what is typed, in words and with its field. */
  problem({ value, state, refusal }: KeptView<MarkDraft>): MarkProblem | null {
    if (state === 'conflict') return { field: 'points', message: this.meanwhile() };
    if (this.isWanted && state !== 'away') {
      const missing = this.problemIn(value, true);
      this.isWanted = missing !== null;
      if (missing) return missing;
    }
    if (state === 'changed') return this.problemIn(value, false);
    if (state !== 'refused' && state !== 'away') return null;
    return {
      field: refusal?.fields?.reason ? 'reason' : 'points',
      message: refusal?.message ?? 'Not saved. Try again.',
    };
  }

  private meanwhile(): string {
    const { authorName, points, comment } = this.holding!;
    const gave = [points === null ? '' : `${points} points`, comment && `“${comment}”`]
      .filter(Boolean)
      .join(', ');
    return `${authorName} has marked this meanwhile${gave && `: ${gave}`}. Yours is still in the field; finish to put it in its place.`;
  }

  private problemIn(draft: MarkDraft, finishes: boolean): MarkProblem | null {
    const points = parsePoints(draft.points);
    if (points === null && draft.points.trim() !== '')
      return { field: 'points', message: 'Type points such as 4 or 2.5.' };
    const { scoring, carries } = this.options;
    const score = { points, choices: draft.choices, reason: draft.reason };
    return markProblem(scoreOf(this.holding), score, { scoring, carries: toHundredths(carries), finishes });
  }
}

const asRefusal = (problem: MarkProblem | null): Refusal | null =>
  problem && {
    status: 0,
    code: 'invalid',
    message: problem.message,
    fields: { [problem.field]: problem.message },
  };
