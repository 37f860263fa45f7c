/**
 * Formatted text as a small tree: the JSON shape that rich text editors built on ProseMirror exchange, held to
 * what directions and prompts need. Everything else is refused, so that what is stored can be drawn anywhere.
 */
import { isLanguage } from './languages';

export interface RichMark {
  type: 'bold' | 'italic' | 'link';
  attrs?: { href?: string };
}

export interface RichNode {
  type: 'doc' | 'paragraph' | 'text' | 'hardBreak' | 'bulletList' | 'orderedList' | 'listItem' | 'image';
  text?: string;
  marks?: RichMark[];
  attrs?: {
    /** Of a paragraph: a BCP 47 language tag; absent for the language of the page. */
    lang?: string | null;
    /** Of a picture: its stored file, and what it shows in words. */
    recordingId?: string;
    alt?: string;
  };
  content?: RichNode[];
}

const CHILDREN: Record<RichNode['type'], readonly RichNode['type'][]> = {
  doc: ['paragraph', 'bulletList', 'orderedList', 'image'],
  paragraph: ['text', 'hardBreak'],
  bulletList: ['listItem'],
  orderedList: ['listItem'],
  listItem: ['paragraph', 'bulletList', 'orderedList', 'image'],
  text: [],
  hardBreak: [],
  image: [],
};
const MARKS = new Set(['bold', 'italic', 'link']);
const MOST_DEPTH = 12;
const MOST_NODES = 4_000;
const MOST_CHARACTERS = 5_000;

/** True for an address that a link may lead to: the web and mail, never a script. */
export function isSafeLink(href: unknown): href is string {
  return (
    typeof href === 'string' && href.length <= 2_000 && /^(https?:\/\/[^\s/]|mailto:[^\s@]+@)/i.test(href)
  );
}

/**
 * What is wrong with a tree that claims to be formatted text; null when nothing is.
 * @param value anything; it may come from anywhere
 */
export function richTextProblem(value: unknown): string | null {
  let nodes = 0;
  let characters = 0;
  const look = (node: unknown, within: RichNode['type'] | null, depth: number): string | null => {
    if (++nodes > MOST_NODES || depth > MOST_DEPTH)
      return 'This text is built too deep. Paste it as plain text.';
    const n = node as Partial<RichNode> | null;
    const type = n?.type;
    if (!n || typeof n !== 'object' || !type || !(type in CHILDREN))
      return 'This text holds something that cannot be kept. Paste it as plain text.';
    if (within === null ? type !== 'doc' : !CHILDREN[within].includes(type))
      return 'This text is put together in a way that cannot be kept. Paste it as plain text.';
    if (type === 'text' && (typeof n.text !== 'string' || n.text === ''))
      return 'A piece of this text is empty.';
    characters += n.text?.length ?? 0;
    if (characters > MOST_CHARACTERS) return `A text has at most ${MOST_CHARACTERS} characters.`;
    if (type === 'image' && typeof n.attrs?.recordingId !== 'string')
      return 'A picture in this text is not here. Put it in again.';
    const { lang } = n.attrs ?? {};
    if (lang !== undefined && lang !== null && !isLanguage(lang))
      return 'The language of a paragraph is not known.';
    if (n.marks !== undefined && n.marks !== null && !Array.isArray(n.marks))
      return 'This text cannot be read.';
    for (const mark of n.marks ?? []) {
      if (!MARKS.has(mark?.type))
        return 'This text holds a format that cannot be kept. Paste it as plain text.';
      if (mark.type === 'link' && !isSafeLink(mark.attrs?.href))
        return 'A link in this text must begin with https://, http:// or mailto:.';
    }
    if (n.content !== undefined && !Array.isArray(n.content)) return 'This text cannot be read.';
    for (const child of n.content ?? []) {
      const problem = look(child, type, depth + 1);
      if (problem) return problem;
    }
    return null;
  };
  return look(value, null, 0);
}

/** The words of a formatted text: a line a paragraph, list items led by a dash or their number. */
export function plainTextOf(doc: RichNode): string {
  const inline = (node: RichNode): string =>
    node.type === 'text'
      ? (node.text ?? '')
      : node.type === 'hardBreak'
        ? '\n'
        : (node.content ?? []).map(inline).join('');
  const lines = (node: RichNode, indent: string): string[] =>
    (node.content ?? []).flatMap((child): string[] => {
      if (child.type === 'paragraph') return [indent + inline(child)];
      if (child.type === 'bulletList' || child.type === 'orderedList')
        return (child.content ?? []).flatMap((item, i) => {
          const sign = child.type === 'bulletList' ? '– ' : `${i + 1}. `;
          const own = lines(item, indent + ' '.repeat(sign.length));
          return own.length ? [indent + sign + own[0]!.trimStart(), ...own.slice(1)] : [];
        });
      return [];
    });
  return lines(doc, '').join('\n').trim();
}

/** A plain text as a tree, a paragraph a line. */
export function richTextOf(text: string): RichNode {
  return {
    type: 'doc',
    content: text.split('\n').map(line => ({
      type: 'paragraph' as const,
      ...(line && { content: [{ type: 'text' as const, text: line }] }),
    })),
  };
}

/** True when a tree says nothing that its plain text does not say. */
export function isPlain(doc: RichNode): boolean {
  return (doc.content ?? []).every(
    node =>
      node.type === 'paragraph' &&
      !node.attrs?.lang &&
      (node.content ?? []).every(child => child.type === 'hardBreak' || (child.marks ?? []).length === 0),
  );
}

/** Stored files of the pictures in a text. */
export function picturesIn(doc: RichNode | null): string[] {
  if (!doc) return [];
  const own = doc.type === 'image' && doc.attrs?.recordingId ? [doc.attrs.recordingId] : [];
  return [...own, ...(doc.content ?? []).flatMap(picturesIn)];
}

/**
 * A tree as an editor gives it, held to the attributes that are kept: editors add their own. What then still
 * does not fit is for `richTextProblem` to say.
 */
export function tidied(node: RichNode): RichNode {
  const { type, text, marks, attrs, content } = node;
  const kept: RichNode = { type };
  if (type === 'text') kept.text = text;
  if (type === 'paragraph' && attrs?.lang) kept.attrs = { lang: attrs.lang };
  if (type === 'image') kept.attrs = { recordingId: attrs?.recordingId, alt: attrs?.alt ?? '' };
  const own = (marks ?? [])
    .filter(m => m.type !== 'link' || isSafeLink(m.attrs?.href))
    .map((m): RichMark =>
      m.type === 'link' ? { type: 'link', attrs: { href: m.attrs!.href } } : { type: m.type },
    );
  if (own.length > 0) kept.marks = own;
  if (content) kept.content = content.map(tidied);
  return kept;
}
