import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Colours of what is drawn; words stand neither in them nor on them. */
const SHAPES = ['saffron', 'petrol'];
/** What carries words of a colour made for it. */
const LOUD = ['vermilion'];

const css = readFileSync(join(__dirname, 'theme.css'), 'utf8');

/** The colours that a block of the theme gives to its names. */
function tokensAfter(selector: string): Map<string, string> {
  const begin = css.indexOf('{', css.indexOf(selector)) + 1;
  const block = css.slice(begin, css.indexOf('}', begin));
  return new Map([...block.matchAll(/--([\w-]+):\s*(#[0-9a-f]{6});/g)].map(m => [m[1]!, m[2]!]));
}

/** Relative luminance of an sRGB colour, 0 to 1 (WCAG 2.2). */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map(at => {
    const part = Number.parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}

/** Contrast of two colours, 1 to 21 (WCAG 2.2). */
function contrast(one: string, other: string): number {
  const [dark, light] = [luminance(one), luminance(other)].sort((a, b) => a - b);
  return (light! + 0.05) / (dark! + 0.05);
}

describe('the two themes', () => {
  const light = tokensAfter(':root {');
  const dark = tokensAfter(":root[data-theme='dark']");

  it('name the same colours, and the dark one is the same by choice and by the device', () => {
    expect(light.size).toBeGreaterThan(10);
    expect([...dark.keys()]).toEqual([...light.keys()]);
    expect(tokensAfter(":root:not([data-theme='light'])")).toEqual(dark);
  });

  // The journeys look at every page in the light theme alone: what can be read there must be readable in the dark one.
  const words = [...light.keys()].filter(name => !SHAPES.includes(name));
  const pairs = words.flatMap(text => words.map(ground => [text, ground] as const));
  it.each(
    pairs.filter(([text, ground]) => !LOUD.includes(ground) && !(LOUD.includes(text) && ground === 'ink')),
  )('what can be read in the light one can be read in the dark one: %s on %s', (text, ground) => {
    const [before, after] = [light, dark].map(t => contrast(t.get(text)!, t.get(ground)!));
    for (const enough of [3, 4.5]) if (before! >= enough) expect(after).toBeGreaterThanOrEqual(enough);
  });

  it('have a colour of its own for what stands on the loud one', () => {
    for (const theme of [light, dark])
      expect(contrast(theme.get('on-vermilion')!, theme.get('vermilion')!)).toBeGreaterThanOrEqual(4.5);
  });

  it('put no words in the colours of shapes, nor on them', () => {
    const files = readdirSync(join(__dirname, '..'), { recursive: true, encoding: 'utf8' });
    const written = files
      .filter(f => /\.tsx?$/.test(f) && !f.includes('node_modules') && !f.includes('.test.'))
      .map(f => readFileSync(join(__dirname, '..', f), 'utf8'))
      .join('\n');
    const texts = new RegExp(`(?<![\\w-])text-(${SHAPES.join('|')})(?![\\w-])`);
    const grounds = new RegExp(
      `(?<![\\w-])bg-(${SHAPES.join('|')})(?![\\w-])[^'"\`]*(?<![\\w-])text-(?!sm|lg|xl)`,
    );
    const loud = /(?<![\w-])bg-vermilion(?![\w-])[^'"`]*(?<![\w-])text-(?!on-vermilion)/;
    for (const forbidden of [texts, grounds, loud]) expect(forbidden.exec(written)?.[0]).toBeUndefined();
  });
});
