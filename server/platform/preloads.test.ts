import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { preloads } from './preloads';

describe('what a page needs is named in its HTML', () => {
  const folder = mkdtempSync(join(tmpdir(), 'ecoute-web-'));
  afterAll(() => rmSync(folder, { recursive: true }));

  it('with all that it imports, once, and without what the entry brings', () => {
    mkdirSync(join(folder, '.vite'));
    const manifest = {
      'index.html': { file: 'assets/index.js', imports: ['_shared.js'] },
      '_shared.js': { file: 'assets/shared.js' },
      '_field.js': { file: 'assets/field.js', imports: ['_shared.js', '_field.js'] },
      'features/signIn/SignInPage.tsx': { file: 'assets/SignIn.js', imports: ['_field.js', '_shared.js'] },
    };
    writeFileSync(join(folder, '.vite/manifest.json'), JSON.stringify(manifest));
    const of = preloads(folder);
    expect([...of('/sign-in').matchAll(/href="([^"]+)"/g)].map(m => m[1])).toEqual([
      '/assets/SignIn.js',
      '/assets/field.js',
    ]);
    expect(of('/sign-in/else')).toBe('');
    // Not built: nothing is named, and nothing breaks.
    expect(of('/sit/3')).toBe('');
    expect(preloads('/nowhere')('/sign-in')).toBe('');
  });

  it('with what it asks the server first, and nothing that was written into the address', () => {
    const of = preloads(folder);
    const id = '0f92c714-df30-4131-924c-07ecfb738bbd';
    expect(of(`/listen/${id}`)).toContain(
      `<link rel="preload" as="fetch" crossorigin href="/api/releases/${id}/lanes?packed">`,
    );
    for (const path of [
      `/listen/${id}/else`,
      '/listen/"><script>',
      `/listen/${id}"`,
      `/listen/${id.toUpperCase()}`,
    ])
      expect(of(path)).toBe('');
  });
});
