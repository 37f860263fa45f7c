import type { Plugin } from 'vite';

/** Fonts of the interface itself; those of other scripts come when a page uses them. */
const FONTS = /atkinson|literata/i;

/** Besides the entry: a sitting, its words in every language, what sends recordings, and signing in. */
const WANTED = /features\/(sit|phone|signIn)\/|base\/languages\/|app\/AccountMenu|i18next|tus-js-client/;

/**
 * Lists what a page needs to open without a network: the entry with everything it loads at once, the pages of a
 * sitting and of a phone, and the interface's fonts. The service worker reads the list as `/offline.json`.
 */
export function offlineList(): Plugin {
  return {
    name: 'ecoute-offline-list',
    generateBundle(_options, bundle) {
      const wanted = new Set<string>();
      const take = (fileName: string) => {
        const chunk = bundle[fileName];
        if (!chunk || wanted.has(fileName)) return;
        wanted.add(fileName);
        if (chunk.type !== 'chunk') return;
        chunk.imports.forEach(take);
        const css = (chunk as { viteMetadata?: { importedCss?: Set<string> } }).viteMetadata?.importedCss;
        css?.forEach(name => wanted.add(name));
      };
      for (const chunk of Object.values(bundle)) {
        if (chunk.type !== 'chunk') {
          if (/\.woff2$/.test(chunk.fileName) && FONTS.test(chunk.fileName)) wanted.add(chunk.fileName);
        } else if (chunk.isEntry || chunk.moduleIds.some(id => WANTED.test(id))) take(chunk.fileName);
      }
      const files = [...wanted].sort().map(name => `/${name}`);
      this.emitFile({
        type: 'asset',
        fileName: 'offline.json',
        source: JSON.stringify({ files: ['/icon.svg', ...files] }),
      });
    },
  };
}
