import type { AnswerBy } from '@ecoute/core/timing/strip';

/** How an item is answered, as its teacher reads it. */
export const ANSWERED: Record<AnswerBy, string> = {
  audio: 'spoken or played',
  video: 'on camera',
  screen: 'from the screen, spoken',
  file: 'with a file',
  text: 'in writing',
  nothing: 'not at all: material',
};
