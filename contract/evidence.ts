/** What is measured of an answer, by its item, and what pages are told of it. Nothing here is ever sent to the server. */
import type { Evidence, Figure, Figures, TextOf } from '@ecoute/core/audio/evidence';
import type { HeardAs } from '@ecoute/core/audio/measure';
import type { Usual } from '@ecoute/core/statistics/usual';
import type { Item } from './assessments';
import type { Subject } from './classes';
import type { Stimulus } from './stimuli';

/** The score that an answer is held against: the first one that the item shows. */
export function targetOf(item: Pick<Item, 'stimuli'>): Stimulus | null {
  return item.stimuli.find(s => s.kind === 'notation' && s.recordingId !== null) ?? null;
}

/** The passage that is read aloud. */
export function passageOf(item: Pick<Item, 'stimuli'>): Stimulus | null {
  return item.stimuli.find(s => s.kind === 'passage' && s.text.trim() !== '') ?? null;
}

/** A text whose words are looked for in an answer: a passage, else a model answer in a language that is said. */
export interface KnownText {
  of: TextOf;
  text: string;
  /** BCP 47, or empty. */
  language: string;
}

export function knownText(item: Pick<Item, 'stimuli' | 'modelText' | 'modelLanguage'>): KnownText | null {
  const passage = passageOf(item);
  if (passage) return { of: 'passage', text: passage.text, language: passage.language };
  const { modelText, modelLanguage = '' } = item;
  return modelText.trim() && modelLanguage ? { of: 'model', text: modelText, language: modelLanguage } : null;
}

/** What an answer is heard as: what comes with the item tells; else what the class learns. */
export function heardAs(item: Pick<Item, 'stimuli' | 'music' | 'turns'>, subject: Subject): HeardAs {
  if (targetOf(item) || item.music) return 'music';
  if (item.turns.length > 0 || passageOf(item)) return 'speech';
  return subject === 'music' ? 'music' : 'speech';
}

/** A sound that an answer may have to follow: the model answer, else the prompt. */
export interface ModelSound {
  of: 'model' | 'prompt';
  recordingId: string;
}

/** Sounds that an answer is laid on where it says or plays the same. */
export function modelsOf(
  item: Pick<Item, 'modelVoice' | 'promptRecordingId' | 'promptIsVideo'>,
): ModelSound[] {
  const models: ModelSound[] = [];
  if (item.modelVoice) models.push({ of: 'model', recordingId: item.modelVoice.recordingId });
  if (item.promptRecordingId && !item.promptIsVideo)
    models.push({ of: 'prompt', recordingId: item.promptRecordingId });
  return models;
}

/** What is measured of one take. */
export type TakeEvidence =
  | { state: 'measuring' }
  /** Nothing could be measured; the recording itself may play all the same. */
  | { state: 'problem'; message: string }
  | { state: 'measured'; evidence: Evidence };

/** One take beside the others of a release. */
export interface MeasuredTake {
  figures: Figures;
  /** Beginnings and ends of its pauses in ms of the recording, one after the other. */
  pauses: number[];
}

export interface ReleaseEvidence {
  takes: Record<string, MeasuredTake>;
  /** By item, of the answers that count: what is usual, for the figures that enough of them have. */
  usual: Record<string, Partial<Record<Figure, Usual>>>;
}
