import fc from 'fast-check';
import { bankRows, filledIn, findComments, firstName, isLink, linksIn, putBehind } from './comments';

const bank = [
  { id: '1', topic: 'Sounds', words: 'Listen to the end of “levanto-me”.', used: 2 },
  { id: '2', topic: 'Sounds', words: 'The nasal vowel in {name}’s “pão” is right.', used: 9 },
  { id: '3', topic: 'Flow', words: 'Shorter pauses between the sentences, please.', used: 5 },
  { id: '4', topic: 'Flow', words: 'Sentences hang together well.', used: 1 },
];
const ids = (typed: string) => findComments(bank, typed).map(c => c.id);

describe('finding comments by typing', () => {
  it('wants every word, at the beginning of a word, whatever its accents', () => {
    expect(ids('pao')).toEqual(['2']);
    expect(ids('sent')).toEqual(['4', '3']);
    expect(ids('pauses sent')).toEqual(['3']);
    expect(ids('entences')).toEqual([]);
    expect(ids('flow')).toEqual(['3', '4']);
  });

  it('finds all where nothing is typed, as many as are shown', () => {
    expect(ids('  ')).toEqual(['1', '2', '3', '4']);
    expect(findComments(bank, '', 2)).toHaveLength(2);
  });
});

describe('placeholders', () => {
  it('are filled in, or left where a name is hidden', () => {
    expect(filledIn('{Name}, at {time}: {name}!', { name: 'Ana', time: '0:12' })).toBe('Ana, at 0:12: Ana!');
    expect(filledIn('{name}, at {time} {else}', { name: null, time: '0:12' })).toBe('{name}, at 0:12 {else}');
  });

  it('take the first of somebody’s names, in any script', () => {
    expect(firstName(' Inês Caldeira ')).toBe('Inês');
    expect(firstName('ليلى حداد')).toBe('ليلى');
    expect(firstName('')).toBe('');
  });

  it('stand behind what is written', () => {
    expect(putBehind('', 'b')).toBe('b');
    expect(putBehind('a \n', 'b')).toBe('a\nb');
  });
});

describe('links', () => {
  it('are those that can be followed safely', () => {
    expect(isLink('https://brackwater.example/vowels')).toBe(true);
    for (const bad of ['javascript:alert(1)', 'data:text/html,x', 'brackwater.example', ''])
      expect(isLink(bad)).toBe(false);
  });

  it('are cut out of a text without their full stop, and nothing else is read as anything', () => {
    expect(linksIn('See https://b.example/a?b=1. <b>x</b>')).toEqual([
      { text: 'See ', isLink: false },
      { text: 'https://b.example/a?b=1', isLink: true },
      { text: '. <b>x</b>', isLink: false },
    ]);
  });

  it('lose nothing of any text', () => {
    fc.assert(
      fc.property(
        fc.string(),
        text =>
          linksIn(text)
            .map(p => p.text)
            .join('') === text,
      ),
    );
  });
});

describe('a comment bank as CSV', () => {
  it('is read by the names of its columns, or topic, comment, link', () => {
    const named = bankRows(
      [
        ['Used', 'Comment', 'Topic'],
        ['3', 'Good flow.', 'Flow'],
      ],
      100,
    );
    expect(named.rows).toEqual([{ topic: 'Flow', words: 'Good flow.', link: '' }]);
    expect(bankRows([['Flow', 'Good.', 'https://b.example']], 100).rows).toEqual([
      { topic: 'Flow', words: 'Good.', link: 'https://b.example' },
    ]);
  });

  it('comes back as it went out, also where a spreadsheet might reckon', () => {
    expect(bankRows([["'=Flow", "'=1+1", '']], 100).rows).toEqual([
      { topic: '=Flow', words: '=1+1', link: '' },
    ]);
  });

  it('says which rows it cannot read, and reads the others', () => {
    const { rows, problems } = bankRows(
      [
        ['topic', 'comment', 'link'],
        ['Flow', '', ''],
        ['', 'x'.repeat(11), ''],
        ['', ' ', ' '],
        ['Flow', 'Fine.', 'javascript:alert(1)'],
        ['', 'Kept. שלום', ''],
      ],
      10,
    );
    expect(problems.map(p => p.row)).toEqual([2, 3, 5]);
    expect(rows).toEqual([{ topic: 'Comments', words: 'Kept. שלום', link: '' }]);
  });
});
