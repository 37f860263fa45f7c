/**
 * What a page needs besides the entry, named in its HTML: a browser fetches it along with the entry, and not after the entry has run.
 * On a slow line that is a second or two less before something can be pressed.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

interface Chunk {
  file: string;
  imports?: string[];
}

const ENTRY = 'index.html';
/** An id as it stands in an address; nothing else is put into a page. */
const ID = '([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})';

/** Pages that people come to first, on a phone or by a link. */
const PAGES: [RegExp, string][] = [
  [new RegExp(`^/listen/${ID}$`), 'features/listen/ListenPage.tsx'],
  [/^\/sign-in$/, 'features/signIn/SignInPage.tsx'],
  [/^\/in$/, 'features/signIn/SlipPage.tsx'],
  [/^\/g\//, 'features/guest/GuestPages.tsx'],
  [/^\/sit\//, 'features/sit/SitPage.tsx'],
  [/^\/feedback\//, 'features/feedback/FeedbackPages.tsx'],
];

/** What a page asks the server first, where that takes it a while: it is asked for while the scripts are read. */
const DATA: [RegExp, (id: string) => string][] = [
  [new RegExp(`^/listen/${ID}$`), id => `/api/releases/${id}/lanes?packed`],
];

function dataFor(path: string): string {
  for (const [pattern, address] of DATA) {
    const id = pattern.exec(path)?.[1];
    // With the cookie, as a page asks its own server: otherwise a browser would ask once more.
    if (id) return `<link rel="preload" as="fetch" crossorigin href="${address(id)}">`;
  }
  return '';
}

function filesOf(manifest: Record<string, Chunk>, source: string, seen = new Set<string>()): Set<string> {
  const chunk = manifest[source];
  if (!chunk || seen.has(chunk.file)) return seen;
  seen.add(chunk.file);
  for (const inner of chunk.imports ?? []) filesOf(manifest, inner, seen);
  return seen;
}

/** @param webDir the built interface @returns the lines for a page's head, by its path; empty where nothing is known */
export function preloads(webDir: string): (path: string) => string {
  const place = join(webDir, '.vite/manifest.json');
  if (!existsSync(place)) return () => '';
  const manifest = JSON.parse(readFileSync(place, 'utf8')) as Record<string, Chunk>;
  const entry = filesOf(manifest, ENTRY);
  const lines = PAGES.map(([path, source]): [RegExp, string] => [
    path,
    [...filesOf(manifest, source)]
      .filter(file => !entry.has(file))
      .map(file => `<link rel="modulepreload" crossorigin href="/${file}">`)
      .join(''),
  ]);
  return path => dataFor(path) + (lines.find(([pattern]) => pattern.test(path))?.[1] ?? '');
}
