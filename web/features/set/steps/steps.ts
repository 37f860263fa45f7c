import isSame from 'fast-deep-equal';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { filesOf } from '@ecoute/contract/assessment/files';

/** One thing that was done to an assessment, and what it was before. */
export interface Step {
  /** What was done, in words that follow “Undo:”. */
  words: string;
  before: AssessmentContent;
  /** When it was done last, in ms of the epoch: what is typed in one go is one step. */
  at: number;
  /** Something came or went; such a step stands alone. */
  isLarge: boolean;
}

/** So many steps can be taken back. */
export const MOST_STEPS = 60;
/** Typing that pauses for longer is another step. */
const ONE_GO_MS = 2_500;

/** The same content has the same text, in whatever order its fields lie. */
export function canonical(content: AssessmentContent): string {
  return JSON.stringify(content, (_key, value: unknown) =>
    value !== null && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(
          Object.entries(value)
            .filter(([, v]) => v !== undefined && v !== null)
            .sort(([a], [b]) => (a < b ? -1 : 1)),
        )
      : value,
  );
}

/** What changed within an item, in a word or two; its number follows. */
function partOf(before: Item, after: Item): string {
  const differs = (...names: (keyof Item)[]) => names.some(n => !isSame(before[n], after[n]));
  if (differs('promptRecordingId')) return 'the voice';
  if (differs('turns')) return 'the turns';
  if (differs('stimuli')) return 'what is shown';
  if (differs('wordsBefore')) return 'the words before';
  if (differs('hintVoice', 'hintText')) return 'the hint';
  if (differs('modelVoice', 'modelText')) return 'the model answer';
  if (differs('readAloudVoice')) return 'the reading aloud';
  if (differs('promptText', 'promptRich')) return 'the words';
  if (differs('music')) return 'the music';
  if (differs('points')) return 'the points';
  return 'the settings';
}

/** What a step did, in words for its teacher. */
export function stepWords(before: AssessmentContent, after: AssessmentContent): string {
  const gone = before.items.filter(i => !after.items.some(o => o.id === i.id));
  const come = after.items.filter(i => !before.items.some(o => o.id === i.id));
  if (before.startingPoint !== after.startingPoint) return 'the starting point';
  if (gone.length === 1 && come.length === 0) return `item ${before.items.indexOf(gone[0]!) + 1} taken out`;
  if (gone.length > 0) return 'items taken out';
  if (come.length === 1) return `item ${after.items.indexOf(come[0]!) + 1} added`;
  if (come.length > 1) return `${come.length} items added`;
  if (
    !isSame(
      before.items.map(i => i.id),
      after.items.map(i => i.id),
    )
  )
    return 'an item moved';
  if (
    !isSame(
      before.sections.map(s => s.id),
      after.sections.map(s => s.id),
    )
  )
    return 'a section';
  const changed = after.items.flatMap((item, n) => (isSame(before.items[n], item) ? [] : [n]));
  if (changed.length > 1) return `${changed.length} items changed`;
  const [n] = changed;
  if (n !== undefined) return `${partOf(before.items[n]!, after.items[n]!)} of item ${n + 1}`;
  if (!isSame(before.scoring.rubric, after.scoring.rubric)) return 'the rubric';
  if (!isSame(before.scoring, after.scoring)) return 'the scoring';
  if (before.title !== after.title) return 'the title';
  const directions = (c: AssessmentContent) => [c.directions, c.directionsRich, c.directionsVoice, c.stimuli];
  if (!isSame(directions(before), directions(after))) return 'the directions';
  if (!isSame(before.sections, after.sections)) return 'a section';
  return 'the whole sitting';
}

/** Identities of all that can come and go. */
function things(content: AssessmentContent): string[] {
  return [
    content.startingPoint,
    content.scoring.kind,
    ...filesOf(content).map(f => `${f.path} ${f.recordingId}`),
    ...content.sections.map(s => s.id),
    ...content.items.flatMap(i => [i.id, ...i.turns.map(t => t.id), ...i.stimuli.map(s => s.id)]),
    ...(content.scoring.rubric?.criteria.map(c => c.id) ?? []),
    ...(content.scoring.rubric?.levels.map((_, n) => `level ${n}`) ?? []),
  ];
}

/**
 * The steps with one more. Words typed in one go, and an edge that is dragged, are one step; nothing that came or went is
 * ever joined with another.
 * @param now in ms of the epoch
 */
export function withStep(
  steps: readonly Step[],
  before: AssessmentContent,
  after: AssessmentContent,
  now: number,
): readonly Step[] {
  if (isSame(before, after)) return steps;
  const words = stepWords(before, after);
  const isLarge = !isSame(things(before), things(after));
  const last = steps.at(-1);
  if (last && !isLarge && !last.isLarge && last.words === words && now - last.at < ONE_GO_MS)
    return [...steps.slice(0, -1), { ...last, at: now }];
  return [...steps, { words, before, at: now, isLarge }].slice(-MOST_STEPS);
}
