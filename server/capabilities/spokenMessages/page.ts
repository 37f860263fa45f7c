/** A spoken message as its own page, and as a mail. */
import escapeHtml from 'escape-html';
import type { StudentLanguage } from '@ecoute/contract/languages';
import { directionOf } from '@ecoute/core/formats/languages';
import { clock } from '@ecoute/core/timing/words';
import type { Mail } from '../../platform/mail/mailer';
import { privatePage } from '../../platform/privatePage';
import type { MessageRow, RecipientRow } from './store';
import { messageWords } from './words';

const e = escapeHtml;

/** What stands on the page and in the mail alike. */
function said(message: MessageRow, to: RecipientRow, language: StudentLanguage) {
  const says = messageWords(language);
  const values = {
    teacher: message.authorName,
    class: message.className,
    student: to.studentName,
    email: to.email ?? '',
    length: message.voiceMs === null ? '' : clock(message.voiceMs),
  };
  return {
    says: (key: Parameters<typeof says>[0], more: Record<string, string> = {}) =>
      says(key, { ...values, ...more }),
    greeting: says(to.familyId ? 'toFamily' : 'toStudent', values),
  };
}

/**
 * The page at the address of one recipient.
 * @param nonce of its style element
 */
export function messagePage(
  message: MessageRow,
  to: RecipientRow,
  language: StudentLanguage,
  nonce: string,
): string {
  const { says, greeting } = said(message, to, language);
  const when = new Intl.DateTimeFormat(language === 'en' ? 'en-GB' : language, { dateStyle: 'long' });
  const words = message.words.trim()
    ? `<h3>${e(says('inWords'))}</h3><p dir="auto">${e(message.words)}</p>`
    : '';
  // Said once with a press, and taken back as easily: who reads it may have pressed by mistake.
  const form = (path: string, label: string) =>
    `<form method="post" action="/spoken/${to.id}/${path}"><button>${e(label)}</button></form>`;
  const mail = !to.familyId
    ? ''
    : to.familyEnded === 'family'
      ? `<p>${e(says('stopped'))}</p>${form('again', says('again'))}`
      : `<details><summary>${e(says('noMore'))}</summary><p>${e(says('noMoreSays'))}</p>${form('stop', says('stop'))}</details>`;
  return privatePage(
    { language, nonce },
    message.title,
    `<h1 dir="auto">${e(message.title)}</h1><p class="soft" dir="auto">${e(greeting)}</p>
<div class="piece"><audio controls preload="none" src="/spoken/${to.id}/sound" aria-label="${e(message.title)}"></audio>
<p class="soft">${e(says('spoken', { when: when.format(message.sentAt ?? message.madeAt) }))}${message.voiceMs === null ? '' : ` · ${clock(message.voiceMs)}`}</p>${words}</div>
<footer class="soft"><p>${e(says('private'))}</p>${mail}</footer>`,
  );
}

/** What an address says that leads nowhere any more. */
export function deadMessagePage(language: StudentLanguage, nonce: string): string {
  return privatePage(
    { language, nonce },
    'Ecoute',
    `<h1>Ecoute</h1><p>${e(messageWords(language)('dead'))}</p>`,
  );
}

/**
 * The mail to one recipient.
 * @param address of the page @param waveform PNG in base64; null where none could be drawn
 */
export function messageMail(
  message: MessageRow,
  to: RecipientRow,
  {
    email,
    language,
    address,
    waveform,
  }: { email: string; language: StudentLanguage; address: string; waveform: string | null },
): Mail {
  const { says, greeting } = said(message, to, language);
  const why = to.familyId ? says('why') : '';
  const words = message.words.trim();
  const text = [message.title, greeting, `${says('hear')}: ${address}`, words, says('private'), why]
    .filter(Boolean)
    .join('\n\n');
  const picture = waveform
    ? `<a href="${e(address)}"><img src="cid:waveform" width="520" alt="${e(says('waveform'))}" style="display:block;width:100%;max-width:520px;height:auto;border:0"></a>`
    : '';
  const html = `<!doctype html><html lang="${language}" dir="${directionOf(language)}"><head><meta charset="utf-8"><title>${e(message.title)}</title></head>
<body style="margin:0;padding:24px 12px;background:#e9eef1;color:#152230;font:17px/1.5 'Atkinson Hyperlegible Next',Verdana,sans-serif">
<div style="max-width:520px;margin:0 auto;padding:24px;background:#ffffff;border-inline-start:6px solid #1f7f8b">
<h1 dir="auto" style="margin:0;font-size:24px;line-height:1.25">${e(message.title)}</h1>
<p dir="auto" style="margin:8px 0 16px">${e(greeting)}</p>${picture}
<p style="margin:16px 0"><a href="${e(address)}" style="display:inline-block;padding:12px 20px;background:#152230;color:#ffffff;font-weight:bold;text-decoration:none">${e(says('hear'))}</a></p>
${words ? `<p dir="auto" style="margin:16px 0;white-space:pre-wrap">${e(words)}</p>` : ''}
<p style="margin:16px 0 0;font-size:14px;color:#4d5d6b">${e(says('private'))}</p>${why ? `<p style="margin:8px 0 0;font-size:14px;color:#4d5d6b">${e(why)}</p>` : ''}
</div></body></html>`;
  return {
    to: email,
    subject: `${message.authorName}: ${message.title}`,
    text,
    html,
    ...(waveform && { pictures: [{ cid: 'waveform', type: 'image/png', base64: waveform }] }),
  };
}
