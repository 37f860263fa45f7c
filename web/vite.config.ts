import react from '@vitejs/plugin-react';
import tailwind from '@tailwindcss/vite';
import { defineConfig } from 'vite';
import { compressed } from './compressed';
import { offlineList } from './offline';
import { oneFontFormat } from './oneFontFormat';
import { porch } from './porch';

export default defineConfig({
  plugins: [react(), tailwind(), offlineList(), oneFontFormat(), porch(), compressed()],
  build: {
    outDir: '../build/web',
    emptyOutDir: true,
    target: 'es2022',
    assetsInlineLimit: 0,
    manifest: true,
  },
  // For work on the interface: `npx vite web` beside a running `./ecoute demo`.
  server: { port: 4311, proxy: { '/api': { target: 'http://127.0.0.1:4310' } } },
});
