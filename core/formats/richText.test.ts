import fc from 'fast-check';
import {
  tidied,
  isPlain,
  isSafeLink,
  picturesIn,
  plainTextOf,
  richTextOf,
  richTextProblem,
  type RichNode,
} from './richText';

const text = (words: string, ...marks: RichNode['marks'] & object): RichNode => ({
  type: 'text',
  text: words,
  ...(marks.length && { marks }),
});
const p = (...content: RichNode[]): RichNode => ({ type: 'paragraph', content });
const doc = (...content: RichNode[]): RichNode => ({ type: 'doc', content });

describe('formatted text', () => {
  it('takes what directions need', () => {
    const full = doc(
      p(
        text('Read '),
        text('aloud', { type: 'bold' }),
        text('.', { type: 'link', attrs: { href: 'https://tide.example' } }),
      ),
      { type: 'paragraph', attrs: { lang: 'ar' }, content: [text('صباح الخير')] },
      { type: 'orderedList', content: [{ type: 'listItem', content: [p(text('one'))] }] },
      { type: 'image', attrs: { recordingId: 'r1', alt: 'the quay' } },
    );
    expect(richTextProblem(full)).toBeNull();
    expect(picturesIn(full)).toEqual(['r1']);
    expect(isPlain(full)).toBe(false);
  });

  it.each<[string, unknown]>([
    ['no tree', 'words'],
    ['nothing', null],
    ['a tree that is no document', p(text('x'))],
    ['a foreign node', doc({ type: 'script' as never })],
    ['a text on the top level', doc(text('x'))],
    ['a script in a link', doc(p(text('x', { type: 'link', attrs: { href: 'javascript:alert(1)' } })))],
    ['a link without an address', doc(p(text('x', { type: 'link' })))],
    ['a foreign mark', doc(p(text('x', { type: 'code' as never })))],
    ['a picture without its file', doc({ type: 'image' })],
    ['a language that is none', doc({ type: 'paragraph', attrs: { lang: '"><b>' } })],
    ['content that is no list', doc({ type: 'paragraph', content: 'x' as never })],
  ])('refuses %s, in words', (_name, tree) => {
    expect(richTextProblem(tree)).toMatch(/\.$/);
  });

  it('refuses more words than a prompt may have, over all its paragraphs', () => {
    const half = p(text('x'.repeat(2_500)));
    expect(richTextProblem(doc(half, half))).toBeNull();
    expect(richTextProblem(doc(half, half, p(text('!'))))).toBe('A text has at most 5000 characters.');
  });

  it('refuses a tree without a bottom', () => {
    let deep: RichNode = p(text('x'));
    for (let i = 0; i < 40; i++)
      deep = { type: 'bulletList', content: [{ type: 'listItem', content: [deep] }] };
    expect(richTextProblem(doc(deep))).toContain('too deep');
  });

  it('says lists and breaks as lines', () => {
    const item = (...content: RichNode[]): RichNode => ({ type: 'listItem', content });
    expect(
      plainTextOf(
        doc(p(text('Say'), { type: 'hardBreak' }, text('now:')), {
          type: 'bulletList',
          content: [
            item(p(text('who'))),
            item(p(text('where')), {
              type: 'orderedList',
              content: [item(p(text('north'))), item(p(text('south')))],
            }),
          ],
        }),
      ),
    ).toBe('Say\nnow:\n– who\n– where\n  1. north\n  2. south');
  });

  it('brings any plain text there and back', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), words => {
        const tree = richTextOf(words);
        expect(plainTextOf(tree)).toBe(words.trim());
        expect(isPlain(tree)).toBe(true);
        expect(richTextProblem(tree)).toBeNull();
      }),
    );
  });

  it('keeps of an editor’s tree what belongs', () => {
    const given = {
      type: 'paragraph',
      attrs: { lang: 'fr', textAlign: 'left' },
      content: [
        { ...text('x', { type: 'link', attrs: { href: 'javascript:x' } }, { type: 'bold' }) },
        { ...text('y', { type: 'link', attrs: { href: 'https://a.example', target: '_blank' } as never }) },
      ],
    } as RichNode;
    expect(tidied(doc(given, { type: 'image', attrs: { recordingId: 'r', title: 'z' } as never }))).toEqual(
      doc(
        {
          type: 'paragraph',
          attrs: { lang: 'fr' },
          content: [
            text('x', { type: 'bold' }),
            text('y', { type: 'link', attrs: { href: 'https://a.example' } }),
          ],
        },
        { type: 'image', attrs: { recordingId: 'r', alt: '' } },
      ),
    );
  });

  it('lets links lead to the web and to mail only', () => {
    expect(['https://a.example', 'http://a.example/x?y#z', 'mailto:a@b.example'].every(isSafeLink)).toBe(
      true,
    );
    expect(['data:text/html,x', 'JavaScript:x', '//a.example', 'https:// x', '', 7].some(isSafeLink)).toBe(
      false,
    );
  });
});
