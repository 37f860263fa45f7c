import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Names of endpoints by the file that adds them. */
function endpoints(folder: string): [string, string][] {
  return readdirSync(folder, { withFileTypes: true }).flatMap(entry => {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) return entry.name === 'node_modules' ? [] : endpoints(path);
    if (!/\.tsx?$/.test(entry.name)) return [];
    return [...readFileSync(path, 'utf8').matchAll(/^\s+(\w+): build\.(?:query|mutation)\b/gm)].map(
      (m): [string, string] => [m[1]!, path],
    );
  });
}

describe('endpoints', () => {
  it('have a name each: of two with one name the first that a page fetches answers for both', () => {
    const all = endpoints(join(__dirname, '..'));
    expect(all.length).toBeGreaterThan(100);
    const names = all.map(([name]) => name);
    expect(names.filter((name, i) => names.indexOf(name) !== i)).toEqual([]);
  });
});
