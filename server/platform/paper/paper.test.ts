import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { runsOf } from './fonts';
import { A4, MARGIN, Paper, WIDE } from './paper';

const read = (pdf: Buffer, ...how: string[]) =>
  execFileSync('pdftotext', [...how, '-enc', 'UTF-8', '-', '-'], { input: pdf }).toString();
const info = (pdf: Buffer) => execFileSync('pdfinfo', ['-'], { input: pdf }).toString();

describe('fonts by their characters', () => {
  const scripts = (text: string) => runsOf(text).map(r => [r.text, /fontsource\/([^/]+)/.exec(r.font)?.[1]]);

  it('are those that have them, every one a file that ships', () => {
    const text = 'Olá, שלום مرحبا नमस्ते 今日は 안녕 Łódź';
    for (const { font } of [...runsOf(text), ...runsOf(text, 700)]) expect(existsSync(font)).toBe(true);
    expect(
      runsOf(text)
        .map(r => r.text)
        .join(''),
    ).toBe(text);
    expect(scripts('Olá')).toHaveLength(1);
    expect(new Set(scripts('aשa').map(([, family]) => family)).size).toBe(2);
  });

  it('leave a trace of what none has, and keep marks with their letters', () => {
    expect(
      runsOf('bem 🙂!')
        .map(r => r.text)
        .join(''),
    ).toBe('bem ·!');
    // A letter with a combining accent is one run, a joiner makes no square.
    expect(runsOf('e\u0301').map(r => r.text)).toEqual(['e\u0301']);
    expect(
      runsOf('a\ufe0f')
        .map(r => r.text)
        .join(''),
    ).not.toContain('·');
    expect(runsOf('')).toEqual([]);
  });
});

describe('paper', () => {
  it('breaks lines and pages, and loses nothing of a long text', async () => {
    const words = Array.from({ length: 1_500 }, (_, i) => `word${i}`);
    const paper = new Paper('Long');
    paper.text(words.join(' '));
    const pdf = await paper.finish();
    expect(read(pdf).match(/word\d+/g)).toEqual(words);
    expect(Number(/Pages:\s+(\d+)/.exec(info(pdf))![1])).toBeGreaterThan(2);
  });

  it('begins another page only when something does not fit any more', async () => {
    const paper = new Paper('Room');
    paper.y = A4.height - MARGIN - 20;
    paper.room(20);
    expect(paper.y).toBe(A4.height - MARGIN - 20);
    paper.room(21);
    expect(paper.y).toBe(MARGIN);
    paper.gap(30);
    expect(paper.y).toBe(MARGIN + 30);
    expect(info(await paper.finish())).toMatch(/Pages:\s+2/);
  });

  it('sets a text that runs from right to left from the right', async () => {
    const paper = new Paper('RTL');
    paper.text('שלום עולם');
    paper.text('left');
    const boxes = read(await paper.finish(), '-bbox');
    const at = (word: string) => {
      const found = new RegExp(`xMin="([\\d.]+)"[^>]*xMax="([\\d.]+)"[^>]*>${word}<`).exec(boxes);
      return found && { from: Number(found[1]), to: Number(found[2]) };
    };
    const left = at('left')!;
    expect(left.from).toBeCloseTo(MARGIN, 0);
    // The line of the other script ends at the right margin.
    const rights = [...boxes.matchAll(/xMax="([\d.]+)"[^>]*>[^<]*[\u05d0-\u05ea]/g)].map(m => Number(m[1]));
    expect(Math.max(...rights)).toBeCloseTo(MARGIN + WIDE, 0);
  });

  it('keeps what is written to a column of its own', async () => {
    const paper = new Paper('Columns');
    const { y } = paper;
    paper.text('a narrow column of a few words', { width: 80 });
    const lines = (paper.y - y) / (11 * 1.4);
    expect(lines).toBeGreaterThanOrEqual(2);
    paper.y = y;
    paper.text('beside it', { x: 100 });
    const boxes = read(await paper.finish(), '-bbox');
    expect(Number(/xMin="([\d.]+)"[^>]*>beside</.exec(boxes)![1])).toBeCloseTo(MARGIN + 100, 0);
  });
});
