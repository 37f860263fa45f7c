import react from '@vitejs/plugin-react';
import { createServer, type Plugin } from 'vite';

const here = (path: string) => `${import.meta.dirname}/${path}`;

/**
 * Writes the form to sign in as HTML, in each language, from the same parts that the page is made of: `porch.json` for the
 * server, which puts it into the page of somebody who is not signed in.
 */
export function porch(): Plugin {
  let script = '';
  return {
    name: 'ecoute-porch',
    apply: 'build',
    buildStart() {
      script = this.emitFile({ type: 'chunk', id: here('app/porch/script.ts'), name: 'porch' });
    },
    async generateBundle(_options, bundle) {
      const vite = await createServer({
        root: import.meta.dirname,
        configFile: false,
        plugins: [react()],
        appType: 'custom',
        logLevel: 'warn',
        server: { middlewareMode: true, ws: false, watch: null },
        optimizeDeps: { noDiscovery: true },
      });
      try {
        const { porches } = (await vite.ssrLoadModule('/app/porch/markup.tsx')) as {
          porches: () => Promise<unknown>;
        };
        const file = this.getFileName(script);
        const chunk = bundle[file];
        const scripts = [file, ...(chunk?.type === 'chunk' ? chunk.imports : [])].map(name => `/${name}`);
        const source = JSON.stringify({ scripts, pages: await porches() });
        this.emitFile({ type: 'asset', fileName: 'porch.json', source });
      } finally {
        await vite.close();
      }
    },
  };
}
