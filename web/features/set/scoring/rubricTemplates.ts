import type { ReadRubric } from '@ecoute/core/formats/rubricText';

const FOUR = ['not yet', 'nearly', 'yes', 'with ease'];

function template(name: string, levels: string[], rows: [string, number, ...string[]][]) {
  return {
    name,
    rubric: {
      levels: levels.map((level, points) => ({ name: level, points })),
      criteria: rows.map(([criterion, weight, ...descriptors]) => ({ name: criterion, weight, descriptors })),
    } satisfies ReadRubric,
  };
}

/** Rubrics to begin with; written for Ecoute. */
export const RUBRIC_TEMPLATES = [
  template('Speaking', FOUR, [
    [
      'Does the task',
      2,
      'another subject, or none',
      'a part of what was asked',
      'all that was asked',
      'all of it, and something of their own',
    ],
    [
      'Flow',
      1,
      'stops at most words',
      'stops inside sentences',
      'pauses where a thought ends',
      'goes on at an easy pace',
    ],
    [
      'Can be followed',
      1,
      'only with the text at hand',
      'with effort',
      'at once, here and there twice',
      'at once, throughout',
    ],
    [
      'Words and forms',
      1,
      'single words',
      'set phrases, few of them right',
      'enough for the task, slips mended',
      'varied, and right where it matters',
    ],
  ]),
  template('Reading aloud', FOUR, [
    ['Words as written', 1, 'many changed or left out', 'some', 'a few, most put right', 'none that matter'],
    ['Phrasing', 1, 'word by word', 'in small groups', 'by sentence', 'as one tells it'],
    ['Sounds', 1, 'another language’s', 'the hard ones miss', 'the hard ones come', 'all of them come'],
  ]),
  template('Performance', FOUR, [
    ['Notes', 1, 'many missed', 'hard places missed', 'a few slips', 'all there'],
    ['Time', 1, 'the beat is lost', 'kept in easy bars', 'kept, hard bars slower', 'kept throughout'],
    ['Tone', 1, 'thin or forced', 'uneven', 'steady', 'full, and shaped'],
    ['Line', 1, 'note by note', 'breaths cut phrases', 'phrases breathe', 'it speaks'],
  ]),
];
