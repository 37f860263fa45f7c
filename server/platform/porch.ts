/**
 * The porch: who is not signed in gets the form with the page itself, and types while the script of the application is on its
 * way. The build writes it in each language (web/porch.ts).
 */
import type { Request } from 'express';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

interface Porches {
  /** The script that signs in, and what it imports. */
  scripts: string[];
  pages: Record<string, { dir: string; html: string }>;
}

/** Pages that lead to signing in, for whoever comes from a mail or a bookmark. Others say themselves what they are. */
const LEADS = /^\/($|sign-in$|sit\/|feedback($|\/)|recordings$)/;
const SIGNED_IN = /(?:^|; )ecoute=/;
const CHOSEN = /(?:^|; )ecoute-language=(\w+)/;
const ROOT = '<div id="root"></div>';

/** The language that was chosen on this device, else the first of the browser's that there is. */
function languageOf(req: Request, pages: Porches['pages']): string {
  const chosen = CHOSEN.exec(req.get('cookie') ?? '')?.[1];
  const wanted = [chosen, ...req.acceptsLanguages()].map(tag => tag?.split('-')[0]);
  return wanted.find((tag): tag is string => tag !== undefined && Object.hasOwn(pages, tag)) ?? 'en';
}

/**
 * @param webDir the built interface
 * @returns puts the porch before the root of a page; the same page where none is wanted
 */
export function porchOf(webDir: string): {
  isWanted: (req: Request) => boolean;
  put: (req: Request, html: string) => string;
} {
  const place = join(webDir, 'porch.json');
  if (!existsSync(place)) return { isWanted: () => false, put: (_req, html) => html };
  const { scripts, pages } = JSON.parse(readFileSync(place, 'utf8')) as Porches;
  const [script, ...others] = scripts;
  const head =
    `<script type="module" crossorigin src="${script}"></script>` +
    others.map(file => `<link rel="modulepreload" crossorigin href="${file}">`).join('');
  return {
    // What is kept for a visit without a network is nobody's page: it is not fetched by somebody who goes there.
    isWanted: req =>
      LEADS.test(req.path) &&
      req.get('sec-fetch-mode') === 'navigate' &&
      !SIGNED_IN.test(req.get('cookie') ?? ''),
    put: (req, html) => {
      const language = languageOf(req, pages);
      const page = pages[language]!;
      return html
        .replace('<html lang="en" dir="ltr">', `<html lang="${language}" dir="${page.dir}">`)
        .replace('<meta name="csp-nonce"', `${head}<meta name="csp-nonce"`)
        .replace(ROOT, () => page.html + ROOT);
    },
  };
}
