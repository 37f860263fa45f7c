/**
 * A portfolio as one page of HTML that needs nothing else: no script, no sign-in, no network where its files lie beside
 * it. The same page is at a private address and in the ZIP.
 */
import type { StudentLanguage } from '@ecoute/contract/languages';
import escapeHtml from 'escape-html';
import { directionOf } from '@ecoute/core/formats/languages';
import { clock } from '@ecoute/core/timing/words';
import type { ShownPiece, ShownPortfolio } from '@ecoute/contract/portfolios';
import { dayIn, portfolioWords } from './words';

export interface PageSources {
  language: StudentLanguage;
  /** Where the sound or film of a recording lies. */
  sound: (recordingId: string) => string;
  picture: (recordingId: string) => string;
  /** When its address ends; null where it has none. */
  endsAt: Date | null;
  /** Of the style element, where the page is sent under a policy that asks for one. */
  nonce?: string;
}

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
li { background: var(--sheet); padding: 1.25rem; border-inline-start: 6px solid var(--petrol) }
audio, video { display: block; width: 100%; margin-top: .75rem }
video { max-height: 70vh; background: #000 }
img { display: block; max-width: 100%; max-height: 60vh; margin-top: .75rem }
footer { margin-top: 1.5rem }
@media print { audio, video { display: none } }
`;

/** @returns a whole document */
export function portfolioPage(shown: ShownPortfolio, from: PageSources): string {
  const says = portfolioWords(from.language);
  const day = dayIn(from.language);
  const e = escapeHtml;
  const words = (text: string) => (text.trim() ? `<p dir="auto">${e(text)}</p>` : '');
  const piece = (p: ShownPiece, i: number) => {
    const heard = p.medium === 'video' ? 'video' : 'audio';
    const picture = p.pictureId
      ? `<img src="${e(from.picture(p.pictureId))}" alt="${e(p.pictureWords)}" loading="lazy">`
      : '';
    const voice = p.voiceId
      ? `<p class="soft">${e(says('spoken'))}${p.voiceMs === null ? '' : `, ${clock(p.voiceMs)}`}</p>
         <audio controls preload="none" src="${e(from.sound(p.voiceId))}"></audio>`
      : '';
    const thoughts = p.words.trim() || voice ? `<h3>${e(says('about'))}</h3>${words(p.words)}${voice}` : '';
    const length = p.durationMs === null ? '' : ` · ${clock(p.durationMs)}`;
    return `<li id="${i + 1}"><h2 dir="auto">${i + 1}. ${e(p.title)}</h2>
<p class="soft">${e(says('recorded', { when: day(p.at) }))}${length}</p>
<${heard} controls preload="none" src="${e(from.sound(p.takeId))}" aria-label="${e(p.title)}"></${heard}>${picture}${thoughts}</li>`;
  };
  const pieces = shown.pieces.length
    ? `<ol>${shown.pieces.map(piece).join('\n')}</ol>`
    : `<p>${e(says('empty'))}</p>`;
  const foot = from.endsAt
    ? `<footer class="soft"><p>${e(says('until', { when: day(from.endsAt) }))}</p></footer>`
    : '';
  return document(
    from,
    shown.title,
    `<h1 dir="auto">${e(shown.title)}</h1><p class="soft" dir="auto">${e(shown.ownerName)}</p>${words(shown.words)}${pieces}${foot}`,
  );
}

/** What an address says that leads nowhere any more. */
export function deadPage(language: StudentLanguage, nonce: string): string {
  const says = portfolioWords(language)('dead');
  return document({ language, nonce }, 'Ecoute', `<h1>Ecoute</h1><p>${escapeHtml(says)}</p>`);
}

function document(
  { language, nonce }: Pick<PageSources, 'language' | 'nonce'>,
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
