import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';

const ROOT = join(__dirname, '../..');

/** The order of the folders, held by the lint: each planted file breaks one rule, and is found. */
describe('the lint of rooms', () => {
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'ecoute-rooms-'));
    plant('tsconfig.json', '{ "compilerOptions": { "moduleResolution": "bundler", "module": "ESNext" } }');
  });
  afterEach(() => rmSync(folder, { recursive: true }));

  function plant(file: string, text: string): void {
    mkdirSync(dirname(join(folder, file)), { recursive: true });
    writeFileSync(join(folder, file), text);
  }

  function lint(): string {
    const { stdout } = spawnSync(
      process.execPath,
      [
        join(ROOT, 'node_modules/dependency-cruiser/bin/dependency-cruise.mjs'),
        '--config',
        join(ROOT, '.dependency-cruiser.mjs'),
        ...['server', 'web'],
      ],
      { cwd: folder, encoding: 'utf8' },
    );
    return stdout;
  }

  it('lets stand what keeps to the order', () => {
    plant('server/capabilities/people/store.ts', 'export const people = 1;');
    plant('server/capabilities/reading/lanes.ts', "export { people } from '../people/store';");
    plant('web/base/api.ts', 'export const api = 1;');
    plant('web/parts/Button.tsx', "export { api } from '../base/api';");
    expect(lint()).toContain('no dependency violations');
  });

  it('finds a circle, also one of types alone', () => {
    plant('web/base/a.ts', "import type { B } from './b'; export type A = B | null;");
    plant('web/base/b.ts', "import type { A } from './a'; export type B = { a: A };");
    plant('server/empty.ts', 'export {};');
    expect(lint()).toContain('no-circles');
  });

  it('finds a capability that uses one after it, a new one without a place, and a floor that looks up', () => {
    plant('server/capabilities/reading/lanes.ts', 'export const lanes = 1;');
    plant('server/capabilities/people/service.ts', "export { lanes } from '../reading/lanes';");
    plant('server/capabilities/planted/service.ts', "export { lanes } from '../reading/lanes';");
    plant('web/features/sit/Page.tsx', 'export const page = 1;');
    plant('web/parts/Button.tsx', "export { page } from '../features/sit/Page';");
    const said = lint();
    expect(said).toContain('order-of-capabilities: people');
    expect(said).toContain('every-capability-has-its-place');
    expect(said).toContain('floors-of-the-interface: web/parts');
  });
});
