/** Pages at private addresses: one document of HTML that needs nothing else, no script and no sign-in. */
import type { Request, Response } from 'express';
import escapeHtml from 'escape-html';
import { STUDENT_LANGUAGES, type StudentLanguage } from '@ecoute/contract/languages';
import { directionOf } from '@ecoute/core/formats/languages';

const STYLE = `
:root { color-scheme: light dark; --ground: #e9eef1; --sheet: #fff; --ink: #152230; --soft: #4d5d6b; --petrol: #1f7f8b; --line: #c9d3da }
@media (prefers-color-scheme: dark) { :root { --ground: #0e1720; --sheet: #16222e; --ink: #e8eef2; --soft: #a9b7c2; --petrol: #4bb3bf; --line: #33434f } }
* { box-sizing: border-box }
body { margin: 0; background: var(--ground); color: var(--ink); font: 1.0625rem/1.5 "Atkinson Hyperlegible Next", system-ui, sans-serif }
main { max-width: 44rem; margin: 0 auto; padding: 1.5rem 1rem 3rem }
h1 { margin: 0; font-size: 1.9rem; line-height: 1.2 }
h2 { margin: 0; font-size: 1.25rem; line-height: 1.3 }
h3 { margin: 1rem 0 0; font-size: 1rem }
p { margin: .4rem 0; white-space: pre-wrap; overflow-wrap: anywhere }
.soft { color: var(--soft); font-size: .95rem }
ol { list-style: none; margin: 1.5rem 0 0; padding: 0; display: grid; gap: 1px; background: var(--line) }
li, .piece { background: var(--sheet); padding: 1.25rem; border-inline-start: 6px solid var(--petrol) }
.piece { margin-top: 1.5rem }
audio, video { display: block; width: 100%; margin-top: .75rem }
video { max-height: 70vh; background: #000 }
img { display: block; max-width: 100%; max-height: 60vh; margin-top: .75rem }
footer { margin-top: 1.5rem }
summary { min-height: 44px; padding: .6rem 0; cursor: pointer; text-decoration: underline; text-underline-offset: 4px }
button { min-height: 44px; padding: 0 1.25rem; border: 2px solid var(--ink); background: var(--sheet); color: var(--ink); font: inherit; font-weight: 600; cursor: pointer }
@media print { audio, video { display: none } }
`;

/**
 * A whole document.
 * @param body HTML; whatever people wrote is escaped already
 * @param nonce of the style element, where the page is sent under a policy that asks for one
 */
export function privatePage(
  { language, nonce }: { language: StudentLanguage; nonce?: string },
  title: string,
  body: string,
): string {
  return `<!doctype html>
<html lang="${language}" dir="${directionOf(language)}"><head><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex, nofollow">
<title>${escapeHtml(title)}</title><style${nonce ? ` nonce="${nonce}"` : ''}>${STYLE}</style></head>
<body><main>${body}</main></body></html>
`;
}

/** The first of our languages that a browser asks for. */
export function languageAsked(req: Request): StudentLanguage {
  return (req.acceptsLanguages([...STUDENT_LANGUAGES]) || 'en') as StudentLanguage;
}

/** Nothing of such a page is kept or passed on by what reads it: once it is over it is over. */
export function sendPrivatePage(res: Response, { status, html }: { status: number; html: string }): void {
  res.set('Cache-Control', 'no-store').set('X-Robots-Tag', 'noindex, nofollow');
  res.set('Referrer-Policy', 'no-referrer').status(status).type('html').send(html);
}
