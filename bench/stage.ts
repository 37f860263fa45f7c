/** What the bench of the stage sits: a long passage, a long score, a beat. */
import { blankContent, blankItem, blankMusic, blankStimulus } from '@ecoute/contract/blank';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import { longScore } from '../e2e/support/longScore';
export { hearClicks } from '@ecoute/core/audio/clicks';
export { ANALYSIS_HZ } from '@ecoute/core/audio/halves';
export { beatsIn, knownBeats, sentBeats } from '@ecoute/core/timing/takeClock';

const PASSAGE = Array.from({ length: 50 }, (_, i) => `${i + 1} the bell of the harbour rings at dusk`).join(
  '\n',
);

function sat(title: string, item: Partial<Item>): AssessmentContent {
  return blankContent('homework', {
    title,
    directions: 'Answer each item.',
    items: [
      blankItem(crypto.randomUUID(), 'homework', {
        prepareMs: 0,
        startsBy: 'student',
        answerLimitMs: 40_000,
        takesAllowed: 0,
        pauseAllowed: true,
        ...item,
      }),
    ],
  });
}

export const score = longScore('forty.musicxml', 40);
export const passage = () =>
  sat('Four hundred words', {
    promptText: 'Read it aloud.',
    stimuli: [blankStimulus(crypto.randomUUID(), 'passage', { text: PASSAGE })],
  });
export const notation = (recordingId: string) =>
  sat('Forty bars', {
    promptText: 'Play it through.',
    stimuli: [blankStimulus(crypto.randomUUID(), 'notation', { recordingId })],
  });
export const beat = () =>
  sat('In time', {
    promptText: 'Play in time.',
    music: { ...blankMusic(), metronome: { bpm: 120, beats: 4, countInBars: 1, heard: true } },
  });
export const timed = () =>
  sat('By the clock', {
    promptText: 'Say what you see.',
    prepareMs: 12_000,
    answerLimitMs: 14_000,
    startsBy: 'itself',
  });
