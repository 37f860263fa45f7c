import { blankContent, blankItem, blankMusic, blankStimulus } from '@ecoute/contract/blank';
export { answersIn } from '@ecoute/core/timing/conversation';
import { outlineOf } from '@ecoute/contract/releases';
import { EVIDENCE_REVISION } from '@ecoute/core/audio/evidence';

/** An assessment of four items, what lists draw of it, and by which way of measuring its takes are measured. */
export function content() {
  const items = Array.from({ length: 4 }, (_, i) =>
    blankItem(`0000000${i}-0008-4000-8000-000000000000`, 'homework', { promptText: 'Say what you see.' }),
  );
  const whole = blankContent('homework', {
    title: 'A walk along the quay',
    directions: 'Answer each item.',
    items,
  });
  return { content: whole, outline: outlineOf(whole), measuredBy: EVIDENCE_REVISION };
}

/** What makes of an item a reading of 80 words, and one that is played. */
export const KINDS = {
  reading: {
    stimuli: [
      blankStimulus('0000000a-0008-4000-8000-000000000000', 'passage', {
        text: 'The bell of the harbour rang at five and nobody could say why. '.repeat(6).trim(),
        language: 'en',
      }),
    ],
  },
  music: { music: blankMusic() },
};
