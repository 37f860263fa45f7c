/** What of a student's year can be held against each other: the same item at several dates, or items of a kind. */
import { FIGURES, type Figure } from '@ecoute/core/audio/evidence';
import { percentOf } from '@ecoute/core/scoring/shares';
import { toHundredths } from '@ecoute/core/scoring/points';
import type { AnswerKind } from '@ecoute/contract/assessment/kinds';
import type { StudentYear, YearAnswer, YearSitting } from '@ecoute/contract/results';

/** An answer with where it belongs. */
export interface Dated {
  sitting: YearSitting;
  answer: YearAnswer;
}

export interface Task {
  key: string;
  /** The prompt of an item; null for a kind. */
  prompt: string | null;
  kind: AnswerKind;
  /** Oldest first. */
  answers: Dated[];
}

/** Sittings that were handed in from one day to another; empty for no limit. Days as `YYYY-MM-DD`. */
export function within(
  sittings: readonly YearSitting[],
  { from, to }: { from: string; to: string },
): YearSitting[] {
  return sittings.filter(s => (!from || s.at.slice(0, 10) >= from) && (!to || s.at.slice(0, 10) <= to));
}

/** Items that were answered at two dates or more, then kinds with two recordings or more; those heard most often first. */
export function tasksOf(sittings: readonly YearSitting[]): Task[] {
  const items = new Map<string, Task>();
  const kinds = new Map<string, Task>();
  for (const sitting of sittings)
    for (const answer of sitting.answers) {
      if (!answer.takeId || answer.durationMs === null) continue;
      const add = (map: Map<string, Task>, key: string, prompt: string | null) => {
        const known = map.get(key);
        if (known) {
          known.answers.push({ sitting, answer });
          known.prompt = prompt;
        } else map.set(key, { key, prompt, kind: answer.kind, answers: [{ sitting, answer }] });
      };
      // Items keep their ids from version to version of an assessment, and in its copies.
      add(items, `item ${answer.itemId}`, answer.prompt);
      if (answer.kind !== 'other') add(kinds, `kind ${answer.kind}`, null);
    }
  const several = (map: Map<string, Task>) =>
    [...map.values()].filter(t => t.answers.length > 1).sort((a, b) => b.answers.length - a.answers.length);
  return [...several(items), ...several(kinds)];
}

/** Figures that at least two answers of a task have. */
export function figuresOf(task: Task): Figure[] {
  return FIGURES.filter(f => task.answers.filter(d => d.answer.figures[f] !== undefined).length > 1);
}

/** What an answer came to: the level that it shows, or its share of points; null for neither. */
export function answerWords({ shows, points, carries }: YearAnswer): string | null {
  if (shows !== null) return shows;
  return points === null || carries === 0
    ? null
    : `${percentOf(toHundredths(points), toHundredths(carries))} %`;
}

/** What a sitting came to. */
export function sittingWords({ level, points, carries }: YearSitting): string | null {
  if (level !== null) return level;
  return points === null || carries === null
    ? null
    : `${percentOf(toHundredths(points), toHundredths(carries))} %`;
}

export interface TagLine {
  code: string;
  words: string;
  answers: Dated[];
}

/** Answers by can-do statement, oldest first; only those that came to something. */
export function tagLines({ sittings }: Pick<StudentYear, 'sittings'>): TagLine[] {
  const found = new Map<string, TagLine>();
  for (const sitting of sittings)
    for (const answer of sitting.answers)
      for (const { code, words } of answer.tags) {
        const whole =
          sitting.level !== null && answer.shows === null ? { ...answer, shows: sitting.level } : answer;
        if (answerWords(whole) === null) continue;
        const line = found.get(`${code} ${words}`) ?? { code, words, answers: [] };
        if (!line.answers.some(d => d.answer.itemId === answer.itemId && d.sitting === sitting))
          line.answers.push({ sitting, answer: whole });
        found.set(`${code} ${words}`, line);
      }
  return [...found.values()].sort((a, b) => (a.code + a.words < b.code + b.words ? -1 : 1));
}
