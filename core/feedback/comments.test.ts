import fc from 'fast-check';
import { calledName, filledIn, findComments, forBank, isLink, linksIn, putBehind } from './comments';

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

  it('take what somebody is called: as they wish, or their first name, or all where the family’s comes first', () => {
    expect(calledName(' Inês Caldeira ', null)).toBe('Inês');
    expect(calledName('ليلى حداد', ' ')).toBe('ليلى');
    expect(calledName('佐藤 美咲', null)).toBe('佐藤 美咲');
    expect(calledName('佐藤 美咲', '美咲さん')).toBe('美咲さん');
    expect(calledName('김 민준', null)).toBe('김 민준');
    expect(calledName('Nguyễn Thị Hoa', 'Hoa')).toBe('Hoa');
    expect(calledName('', null)).toBe('');
  });

  it('stand again where a comment goes into the bank: nobody’s name goes along', () => {
    expect(forBank(' Ana, Anabel read well; Ana’s “pão” too. ', 'Ana')).toBe(
      '{name}, Anabel read well; {name}’s “pão” too.',
    );
    expect(forBank('Well done, J.R.!', 'J.R.')).toBe('Well done, {name}!');
    expect(forBank('よくできました、美咲さん。', null)).toBe('よくできました、美咲さん。');
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
