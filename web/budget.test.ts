import { weigh } from './budget.mjs';

const manifest = {
  'index.html': { file: 'index.js', imports: ['_shared.js'], dynamicImports: ['Page.tsx'] },
  '_shared.js': { file: 'shared.js' },
  'Page.tsx': { file: 'page.js', imports: ['_shared.js', 'index.html'] },
  'Charts.tsx': { file: 'charts.js', imports: ['_shared.js'] },
};
const sizes: Record<string, number> = { 'index.js': 100, 'shared.js': 10, 'page.js': 5, 'charts.js': 400 };
const sizeOf = (file: string) => sizes[file]!;

describe('the weight of a page', () => {
  it('counts what is imported at once, each once, and nothing that comes later', () => {
    expect(weigh(manifest, ['index.html'], sizeOf)).toBe(110);
    expect(weigh(manifest, ['index.html', 'Page.tsx'], sizeOf)).toBe(115);
  });

  it('grows by a chart library that a first page imports', () => {
    const planted = {
      ...manifest,
      'index.html': { ...manifest['index.html'], imports: ['_shared.js', 'Charts.tsx'] },
    };
    expect(weigh(planted, ['index.html'], sizeOf)).toBe(510);
  });

  it('says which name is no longer right', () => {
    expect(() => weigh(manifest, ['index.html', 'Gone.tsx'], sizeOf)).toThrow(/Gone\.tsx/);
  });
});
