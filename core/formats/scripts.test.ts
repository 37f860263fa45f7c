import { baseDirection, linesOf, partsOf, placed } from './scripts';

const measure = (word: string) => [...word].length * 10;
const lines = (text: string, width: number) =>
  linesOf(text, width, measure, 5).map(l => l.map(w => w.text).join('|'));

describe('laying out text of any script', () => {
  it('knows which way a text runs by its first letter', () => {
    expect(['12 Bell', 'שלום Bell', '“مرحبا”', '🙂 …'].map(baseDirection)).toEqual([
      'ltr',
      'rtl',
      'rtl',
      'ltr',
    ]);
  });

  it('parts at spaces, and between ideographs', () => {
    expect(partsOf('a bc').map(p => [p.text, p.spaced])).toEqual([
      ['a', false],
      ['bc', true],
    ]);
    expect(partsOf('今日はgo').map(p => p.text)).toEqual(['今', '日', 'は', 'go']);
  });

  it('breaks lines by their width, keeps those that were broken, and lets a long word stand alone', () => {
    expect(lines('aa bb cc', 45)).toEqual(['aa|bb', 'cc']);
    expect(lines('aa\n\nbb', 100)).toEqual(['aa', '', 'bb']);
    expect(lines('a enormous b', 30)).toEqual(['a', 'enormous', 'b']);
  });

  it('sets words from the right where the text runs so, with what runs otherwise in its own order', () => {
    const [line] = linesOf('אב גד one two הו', 500, measure, 5);
    const at = placed(line!, 'rtl', 500, 5, measure);
    const x = Object.fromEntries(at.map(p => [p.text, p.x]));
    expect(x['אב']).toBe(480);
    expect(x['גד']! < x['אב']!).toBe(true);
    // Read from the left, “one” comes before “two”.
    expect(x['one']! < x['two']!).toBe(true);
    expect(x['הו']! < x['one']!).toBe(true);
    const [ltr] = linesOf('a b', 500, measure, 5);
    expect(placed(ltr!, 'ltr', 500, 5, measure)).toEqual([
      { text: 'a', x: 0 },
      { text: 'b', x: 15 },
    ]);
  });

  it('keeps numbers with the words they stand among, and brackets around what they hold', () => {
    const order = (text: string) => {
      const [line] = linesOf(text, 900, measure, 5);
      const set = placed(line!, 'rtl', 900, 5, measure);
      expect([...set].sort((a, b) => a.x - b.x)).toEqual(set);
      return set
        .map((p, i) => (i > 0 && p.x > set[i - 1]!.x + measure(set[i - 1]!.text) ? ' ' : '') + p.text)
        .join('');
    };
    expect(order('אב page 3 of 4 גד')).toBe('גד page 3 of 4 אב');
    expect(order('אב (one two) גד')).toBe('גד (one two) אב');
    expect(order('אב 12 34 גד')).toBe('גד 34 12 אב');
  });
});
