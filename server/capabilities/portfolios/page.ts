/**
 * A portfolio as one page of HTML that needs nothing else: no script, no sign-in, no network where its files lie beside
 * it. The same page is at a private address and in the ZIP.
 */
import type { StudentLanguage } from '@ecoute/contract/languages';
import escapeHtml from 'escape-html';
import { clock } from '@ecoute/core/timing/words';
import type { ShownPiece, ShownPortfolio } from '@ecoute/contract/portfolios';
import { privatePage } from '../../platform/privatePage';
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
  return privatePage(
    from,
    shown.title,
    `<h1 dir="auto">${e(shown.title)}</h1><p class="soft" dir="auto">${e(shown.ownerName)}</p>${words(shown.words)}${pieces}${foot}`,
  );
}

/** What an address says that leads nowhere any more. */
export function deadPage(language: StudentLanguage, nonce: string): string {
  const says = portfolioWords(language)('dead');
  return privatePage({ language, nonce }, 'Ecoute', `<h1>Ecoute</h1><p>${escapeHtml(says)}</p>`);
}
