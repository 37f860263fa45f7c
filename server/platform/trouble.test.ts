import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { TROUBLES } from '@ecoute/contract/trouble';

const ROOT = join(__dirname, '../..');

function sources(folder: string): string[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter(name => /\.tsx?$/.test(name) && !/\.test\.|node_modules/.test(name))
    .map(name => readFileSync(join(folder, name), 'utf8'));
}

describe('the table of troubles', () => {
  const said = sources(join(ROOT, 'server')).join('\n');

  it('has no code that nothing says, and each says what to do', () => {
    for (const [code, { means, next }] of Object.entries(TROUBLES)) {
      expect([code, new RegExp(`'${code}'`).test(said)]).toEqual([code, true]);
      expect([means.length, next.length].every(n => n > 5)).toBe(true);
    }
  });

  it('is what the browser decides by: no page reads a message for its meaning', () => {
    const pages = sources(join(ROOT, 'web')).join('\n');
    expect(pages.match(/(message|problem)\??\.(startsWith|includes|match|replace)\(/g)).toBeNull();
  });
});
