/**
 * The strip: an assessment laid out as stretches of time, in the order in which a student meets them.
 * One layout serves the editor, the sitting, the lanes and the small strips in lists.
 */

import { turnsInAll, type WayTogether } from '../takes/together';
import { runOf, type Turn } from './conversation';

/** What the strip needs to know of an item; richer item records satisfy it. */
export interface TimedItem {
  id: string;
  promptText: string;
  /** Length of the voiced prompt; null where the prompt is text only. */
  promptDurationMs: number | null;
  /** Things to look at with the prompt; what they are does not matter here. */
  stimuli?: readonly unknown[];
  prepareMs: number;
  answerLimitMs: number;
  answerBy: AnswerBy;
  isConversation: boolean;
  turns: readonly Turn[];
  /** Answered by some people as one; left out, and null, where each answers alone. */
  together?: { way: WayTogether; most: number; turnsEach: number } | null;
}

/** What an item asks for; `nothing` is material to read, hear or study. */
export const ANSWERS = ['audio', 'video', 'screen', 'file', 'text', 'nothing'] as const;
export type AnswerBy = (typeof ANSWERS)[number];

/** Answers that are recorded here, against the clock: sound, camera, or the screen with the microphone. */
export type RecordedBy = Extract<AnswerBy, 'audio' | 'video' | 'screen'>;

export function isRecorded(answerBy: AnswerBy): answerBy is RecordedBy {
  return answerBy === 'audio' || answerBy === 'video' || answerBy === 'screen';
}

/** Answers that are a recording or a file: there are takes of them. */
export function hasTakes(answerBy: AnswerBy): boolean {
  return isRecorded(answerBy) || answerBy === 'file';
}

export type StretchKind = 'prompt' | 'prepare' | 'answer';

export interface Stretch {
  itemId: string;
  itemIndex: number;
  kind: StretchKind;
  startMs: number;
  durationMs: number;
}

export interface Strip {
  stretches: Stretch[];
  lengthMs: number;
  /** Sum of the limits of spoken answers: the most a teacher will have to listen to for one student. */
  listenMs: number;
}

const READING_WORDS_PER_MINUTE = 150;
const SHORTEST_PROMPT_MS = 3_000;
/** Something to look at, where there are no words to read first. */
const LOOKING_MS = 5_000;

/**
 * Time to read a prompt at leisure, 150 words a minute, at least three seconds. Scripts written without
 * spaces are counted at about two characters a word.
 */
export function readingMs(text: string): number {
  const trimmed = text.trim();
  if (!trimmed) return 0;
  const unspaced = trimmed.match(/[\u3040-\u30ff\u3400-\u9fff]/g)?.length ?? 0;
  const spaced = trimmed
    .replace(/[\u3040-\u30ff\u3400-\u9fff]/g, ' ')
    .split(/\s+/)
    .filter(Boolean).length;
  const words = spaced + unspaced / 2;
  return Math.max(SHORTEST_PROMPT_MS, Math.round((words / READING_WORDS_PER_MINUTE) * 60_000));
}

/** How long an item's prompt takes: the voice if there is one, else the time to read it, or to look. */
export function promptMs(item: Pick<TimedItem, 'promptText' | 'promptDurationMs' | 'stimuli'>): number {
  const reading = item.promptDurationMs ?? readingMs(item.promptText);
  return reading > 0 || !item.stimuli?.length ? reading : LOOKING_MS;
}

/** Whether an item is answered in the gaps of a conversation. */
export function isRun(item: Pick<TimedItem, 'answerBy' | 'isConversation' | 'turns'>): boolean {
  return item.answerBy === 'audio' && item.isConversation && item.turns.length > 0;
}

/** Whether people speak one after the other, each on their own device: over days, and without a clock before it. */
export function isInTurns({ answerBy, together }: Pick<TimedItem, 'answerBy' | 'together'>): boolean {
  return answerBy === 'audio' && together?.way === 'turns';
}

/** How long the answer is at most: of people who speak in turns all of these together. */
function longestAnswerMs(item: TimedItem): number {
  const { answerLimitMs, together } = item;
  return together && isInTurns(item)
    ? answerLimitMs * turnsInAll(together.most, together.turnsEach)
    : answerLimitMs;
}

function answering(item: TimedItem): [StretchKind, number][] {
  if (item.answerBy === 'nothing') return [];
  if (!isRun(item)) return [['answer', longestAnswerMs(item)]];
  return item.turns.flatMap((turn): [StretchKind, number][] => [
    ['prompt', Math.max(0, turn.toMs - turn.fromMs)],
    ['answer', turn.gapMs],
  ]);
}

/** Lays items end to end. Stretches of no length are left out, so every stretch can be drawn. */
export function stripOf(items: readonly TimedItem[]): Strip {
  const stretches: Stretch[] = [];
  let at = 0;
  let listenMs = 0;
  items.forEach((item, itemIndex) => {
    const parts: [StretchKind, number][] = [
      ['prompt', promptMs(item)],
      ['prepare', item.answerBy === 'nothing' || isInTurns(item) ? 0 : item.prepareMs],
      ...answering(item),
    ];
    for (const [kind, durationMs] of parts) {
      if (durationMs <= 0) continue;
      stretches.push({ itemId: item.id, itemIndex, kind, startMs: at, durationMs });
      at += durationMs;
    }
    if (isRecorded(item.answerBy))
      listenMs += isRun(item) ? runOf(item.turns).speakingMs : longestAnswerMs(item);
  });
  return { stretches, lengthMs: at, listenMs };
}

/** The stretch under a position, or null before the start and from the end on. */
export function stretchAt(strip: Strip, positionMs: number): Stretch | null {
  return strip.stretches.find(s => positionMs >= s.startMs && positionMs < s.startMs + s.durationMs) ?? null;
}

/**
 * Distance between ruler ticks for a strip of `lengthMs` with room for about `ticks` of them: the smallest
 * step that people count time in which does not crowd.
 */
export function rulerStepMs(lengthMs: number, ticks: number): number {
  const steps = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600].map(s => s * 1000);
  return steps.find(step => lengthMs / step <= ticks) ?? 7_200_000;
}
