import type { Request } from 'express';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { porchOf } from './porch';

const HTML =
  '<html lang="en" dir="ltr"><head><meta name="csp-nonce" content="" /></head><body><div id="root"></div></body></html>';

/** Somebody who goes to a page. */
function visit(path: string, headers: Record<string, string> = {}, languages: string[] = []): Request {
  const all: Record<string, string> = { 'sec-fetch-mode': 'navigate', ...headers };
  return { path, get: (name: string) => all[name], acceptsLanguages: () => languages } as unknown as Request;
}

describe('the form to sign in that comes with a page', () => {
  const folder = mkdtempSync(join(tmpdir(), 'ecoute-porch-'));
  afterAll(() => rmSync(folder, { recursive: true }));
  const pages = {
    en: { dir: 'ltr', html: '<div id="porch">Sign in</div>' },
    ar: { dir: 'rtl', html: '<div id="porch">$& دخول</div>' },
  };
  writeFileSync(join(folder, 'porch.json'), JSON.stringify({ scripts: ['/p.js', '/q.js'], pages }));
  const porch = porchOf(folder);

  it('comes to whoever has no session, on pages that lead to signing in', () => {
    for (const path of ['/', '/sign-in', '/sit/1', '/feedback', '/feedback/1', '/recordings'])
      expect([path, porch.isWanted(visit(path))]).toEqual([path, true]);
    for (const path of ['/first', '/in', '/g/abc', '/back/abc', '/p', '/no/such/page', '/sign-in/else'])
      expect([path, porch.isWanted(visit(path))]).toEqual([path, false]);
    expect(porch.isWanted(visit('/', { cookie: 'x=1; ecoute=abc' }))).toBe(false);
    expect(porch.isWanted(visit('/', { cookie: 'ecoute-language=ar; ecoute-device=abc' }))).toBe(true);
  });

  it('never comes into what is kept for a visit without a network', () => {
    expect(porch.isWanted(visit('/', { 'sec-fetch-mode': 'cors' }))).toBe(false);
    expect(porch.isWanted(visit('/', { 'sec-fetch-mode': '' }))).toBe(false);
  });

  it('is in the language that was chosen on the device, else the browser’s, else English', () => {
    const put = (cookie: string, languages: string[]) => porch.put(visit('/', { cookie }, languages), HTML);
    expect(put('', ['cy', 'ar-EG', 'en'])).toContain('<html lang="ar" dir="rtl">');
    expect(put('ecoute-language=en', ['ar'])).toContain('<html lang="en" dir="ltr">');
    expect(put('ecoute-language=constructor', ['cy'])).toContain('<html lang="en"');
    const page = put('', ['ar']);
    // As it was written, before the root and with its script; what else is in the page stays.
    expect(page).toContain('$& دخول</div><div id="root"></div>');
    expect(page).toContain('src="/p.js"');
    expect(page).toContain('href="/q.js"');
    expect(page).toContain('<meta name="csp-nonce" content="" />');
  });

  it('is left out where nothing was built', () => {
    const none = porchOf('/nowhere');
    expect([none.isWanted(visit('/')), none.put(visit('/'), HTML)]).toEqual([false, HTML]);
  });
});
