import { BLANK_RECORD, readingFigures, wordsOf, type Miscue } from '../feedback/runningRecord';
import { ALL_PARTS, partsOf, partWithWords, waysToSpeak, wordsOfPart } from './parts';

const spoken = (text: string) => {
  const words = wordsOf(text).flatMap(w => (w.isWord ? [w.text] : []));
  return partsOf(text)?.map(p => [p.name, p.words.map(w => words[w]).join(' ')]);
};

describe('the parts of a dialogue that is written out', () => {
  it('are told by the names before the lines; a line without one goes on, and what stands before is nobody’s', () => {
    const text =
      'At the market\n\nAna: Bom dia! Queria três limões.\nE um pão.\n  Senhor Rui :  Mais alguma coisa?\nAna: É tudo.\n';
    expect(spoken(text)).toEqual([
      ['Ana', 'Bom dia Queria três limões E um pão É tudo'],
      ['Senhor Rui', 'Mais alguma coisa'],
    ]);
    const [together, ana, rui, written] = waysToSpeak(text)!;
    expect(ana!.length + rui!.length).toBe(together!.length);
    // The heading and the names besides.
    expect(written).toHaveLength(together!.length + 3 + 1 + 2 + 1);
    expect(together).toEqual([...together!].sort((a, b) => a - b));
  });

  it('are none where fewer than two speak, or a colon stands in what is told', () => {
    for (const text of [
      '',
      'The old bell rings at six: everybody gets up.',
      'Ana: Bom dia.\nAna: É tudo.',
      'He looked at all the old boats in the harbour and said: no.\nThen he said to her very softly: yes.',
      'It rings at 6:30.\nIt rings at 7:15.',
    ])
      expect(partsOf(text)).toBeNull();
  });

  it('are found with other scripts and line ends', () => {
    expect(spoken('Α: Καλημέρα!\r\nΒ: Γεια σου.\r\n')?.map(p => p[0])).toEqual(['Α', 'Β']);
    expect(spoken('李：你好\n王：早上好')?.map(p => p[0])).toEqual(['李', '王']);
  });
});

describe('the running record of one part', () => {
  const text = 'Ana: Bom dia a todos.\nRui: Bom dia, Ana.\nAna: Até logo.';
  const words = wordsOf(text).filter(w => w.isWord).length;
  const figures = (part: string | null, ...marks: [number, Miscue][]) =>
    readingFigures(
      words,
      { ...BLANK_RECORD, part, marks: marks.map(([word, kind]) => ({ word, kind, said: '', atMs: null })) },
      60_000,
      wordsOfPart(text, '', part),
    );

  it('counts its own words, and of what is marked what stands at them', () => {
    // 0 Ana 1 Bom 2 dia 3 a 4 todos 5 Rui 6 Bom 7 dia 8 Ana 9 Ana 10 Até 11 logo
    expect(words).toBe(12);
    expect(figures(null)).toMatchObject({ words: 12, wordsCorrect: 12 });
    expect(figures(ALL_PARTS)).toMatchObject({ words: 9, wordsCorrect: 9 });
    expect(figures('Ana', [2, 'omission'], [7, 'substitution'], [11, 'selfCorrection'])).toMatchObject({
      words: 6,
      errors: 1,
      wordsCorrect: 5,
      selfCorrections: 1,
      wordsCorrectPerMinute: 5,
    });
    expect(figures('Rui', [6, 'insertion'], [-1, 'insertion'], [2, 'insertion'])).toMatchObject({
      words: 3,
      insertions: 2,
      accuracy: 1 / 3,
    });
    // Up to the last word read.
    expect(
      readingFigures(words, { ...BLANK_RECORD, lastWord: 4 }, null, wordsOfPart(text, '', 'Ana')).words,
    ).toBe(4);
  });

  it('knows which part certain words are, and asks for all where there is no such part', () => {
    for (const part of ['Ana', 'Rui', ALL_PARTS])
      expect(partWithWords(text, '', wordsOfPart(text, '', part)!)).toBe(part);
    expect(partWithWords(text, '', [1, 2])).toBeNull();
    expect(partWithWords('No dialogue at all.', '', [0, 1, 2, 3])).toBeNull();
    expect(wordsOfPart(text, '', 'Inês')).toBeNull();
    expect(wordsOfPart('No dialogue at all.', '', ALL_PARTS)).toBeNull();
  });
});
