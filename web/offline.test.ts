import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { offlineList } from './offline';

/** What must open without a network, by the files that it is made of: one that moves is missed here, not on a train. */
const NEEDED = [
  'features/sit/SitPage.tsx',
  'features/phone/PhonePage.tsx',
  'features/signIn/SignInPage.tsx',
  'app/AccountMenu.tsx',
  ...['pt', 'es', 'fr', 'de', 'ar', 'ja'].map(language => `base/languages/${language}.json`),
  '../node_modules/i18next/dist/esm/i18next.js',
  '../node_modules/tus-js-client/lib.esm/browser/index.js',
];

describe('the list of what opens without a network', () => {
  it('has a sitting, its words in every language, and what sends recordings; nothing of the teachers', () => {
    const bundle = Object.fromEntries(
      [...NEEDED, 'features/listen/ListenPage.tsx'].map(file => [
        file,
        { type: 'chunk', fileName: file, moduleIds: [join(__dirname, file)], imports: [], isEntry: false },
      ]),
    );
    let listed: string[] = [];
    const emitFile = ({ source }: { source: string }) =>
      (listed = (JSON.parse(source) as { files: string[] }).files);
    const { generateBundle } = offlineList() as unknown as {
      generateBundle: (this: unknown, options: object, bundle: object) => void;
    };
    generateBundle.call({ emitFile }, {}, bundle);
    for (const file of NEEDED) {
      expect([file, existsSync(join(__dirname, file))]).toEqual([file, true]);
      expect(listed.some(name => name.includes(file))).toBe(true);
    }
    expect(listed.some(name => name.includes('ListenPage'))).toBe(false);
  });
});
