import type { Plugin } from 'vite';

const WOFF = /,\s*url\([^)]*\.woff\)\s*format\(["']woff["']\)/g;

/** Ships fonts as WOFF2 alone, which every browser reads that runs this; the packages bring WOFF beside it. */
export function oneFontFormat(): Plugin {
  return {
    name: 'ecoute-one-font-format',
    apply: 'build',
    generateBundle: {
      order: 'post',
      handler(_options, bundle) {
        for (const [name, file] of Object.entries(bundle)) {
          if (name.endsWith('.woff')) delete bundle[name];
          else if (file.type === 'asset' && name.endsWith('.css'))
            file.source = String(file.source).replace(WOFF, '');
        }
      },
    },
  };
}
