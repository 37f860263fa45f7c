// How much script the pages fetch before they show themselves, compressed as it is sent, against a budget for each.
// Run after a build: `node web/budget.mjs`. Exit code 1 when a page is over.
import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const ENTRY = 'index.html';
/** Page, what is fetched besides the entry, and its budget in kB. */
const BUDGETS = [
  ['a student’s first page', [], 140],
  ['a teacher’s first page', ['features/home/TeacherHome.tsx'], 220],
  ['signing in', ['features/signIn/SignInPage.tsx'], 175],
  ['a sitting', ['features/sit/SitPage.tsx'], 246],
  ['a discussion', ['features/discussion/DiscussionPage.tsx'], 200],
  ['what came back to a student', ['features/feedback/FeedbackPages.tsx'], 205],
  ['the lanes of a release', ['features/listen/ListenPage.tsx'], 303],
];

/**
 * Adds up chunks with everything that they import at once; what is imported later does not count.
 * @param manifest Vite's, by source file
 * @param sources  where to begin, as the manifest names them
 * @param sizeOf   bytes of a built file as it is sent
 * @returns bytes
 */
export function weigh(manifest, sources, sizeOf) {
  const seen = new Set();
  const add = key => {
    const chunk = manifest[key];
    if (!chunk) throw new Error(`Nothing was built of ${key}. Mend its name in web/budget.mjs.`);
    if (seen.has(chunk.file)) return;
    seen.add(chunk.file);
    for (const inner of chunk.imports ?? []) add(inner);
  };
  sources.forEach(add);
  return [...seen].reduce((sum, file) => sum + sizeOf(file), 0);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const folder = join(import.meta.dirname, '../build/web');
  const manifest = JSON.parse(readFileSync(join(folder, '.vite/manifest.json'), 'utf8'));
  const sizeOf = file => {
    const packed = join(folder, `${file}.br`);
    return statSync(existsSync(packed) ? packed : join(folder, file)).size;
  };
  let over = 0;
  for (const [page, sources, budgetKb] of BUDGETS) {
    const kb = weigh(manifest, [ENTRY, ...sources], sizeOf) / 1000;
    if (kb > budgetKb) over += 1;
    process.stdout.write(
      `${page.padEnd(30)} ${kb.toFixed(1).padStart(6)} kB of ${budgetKb}${kb > budgetKb ? '   OVER' : ''}\n`,
    );
  }
  process.exit(over > 0 ? 1 : 0);
}
