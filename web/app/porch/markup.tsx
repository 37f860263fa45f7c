import { renderToStaticMarkup } from 'react-dom/server';
import { directionOf } from '@ecoute/core/formats/languages';
import { SCREEN_LANGUAGES, speak, t, type ScreenLanguage } from '../../base/i18n';
import { PORCH } from '../../base/porch';
import { AWAY } from '../../base/refusal';
import { Notice } from '../../parts/Notice';
import { SIGN_IN_FORM, SignInFields, SignInFrame } from '../../features/signIn/SignInFrame';

/** What may be refused here; the server says it in English. */
const REFUSALS = () => [
  t('Type your sign-in name.'),
  t('Type your password.'),
  t('That name and password do not belong together. Check both and try again.'),
  t('Too many wrong tries with this name. Wait ten minutes, or ask your teacher for a new password.'),
  t('Too many wrong tries. Wait ten minutes, then try again.'),
  t('This account is closed. What you recorded is kept; ask whoever looks after this Ecoute.'),
  t(AWAY),
];

function Porch({ words }: { words: Record<string, string> }) {
  return (
    <SignInFrame>
      <form className={SIGN_IN_FORM} noValidate data-words={JSON.stringify(words)} method="post">
        <SignInFields
          signInName={{ name: 'signInName' }}
          password={{ name: 'password' }}
          // Until its script is here it could only lead astray.
          isBusy
          told={
            <div hidden>
              <Notice kind="trouble">
                <span data-told />
              </Notice>
            </div>
          }
        />
        <a href="/first" className="underline underline-offset-4">
          {t('I was given a one-time code')}
        </a>
      </form>
    </SignInFrame>
  );
}

export interface PorchPage {
  dir: 'ltr' | 'rtl';
  html: string;
}

/** The porch in each language of the screens, as HTML. */
export async function porches(): Promise<Record<string, PorchPage>> {
  await speak('en');
  const english = REFUSALS();
  const made: Record<string, PorchPage> = {};
  for (const language of Object.keys(SCREEN_LANGUAGES) as ScreenLanguage[]) {
    await speak(language);
    const words = Object.fromEntries(REFUSALS().map((words, i) => [english[i], words]));
    const html = renderToStaticMarkup(
      <div id={PORCH}>
        <Porch words={words} />
      </div>,
    );
    // The content security policy knows no styles in the text of a page; the script puts them on.
    made[language] = { dir: directionOf(language), html: html.replaceAll(' style="', ' data-style="') };
  }
  return made;
}
