import { partsOf, waysToSpeak } from './parts';
import { wordsOf } from '../feedback/runningRecord';

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
