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
/** Pages that people come to first, on a phone or by a link. */
const PAGES: [RegExp, string][] = [
  [/^\/sign-in$/, 'features/signIn/SignInPage.tsx'],
  [/^\/in$/, 'features/signIn/SlipPage.tsx'],
  [/^\/g\//, 'features/guest/GuestPages.tsx'],
  [/^\/sit\//, 'features/sit/SitPage.tsx'],
  [/^\/feedback\//, 'features/feedback/FeedbackPages.tsx'],
];

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
  return path => lines.find(([pattern]) => pattern.test(path))?.[1] ?? '';
}
