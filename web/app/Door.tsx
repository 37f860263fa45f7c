import { useEffect, useState, useSyncExternalStore } from 'react';
import { Outlet } from 'react-router';
import {
  chooseLanguage,
  onLanguage,
  ownLanguage,
  SCREEN_LANGUAGES,
  screenLanguage,
  setScreenLanguage,
  t,
  type ScreenLanguage,
} from '../base/i18n';
import { Loading } from '../parts/Loading';

/** Around the pages that somebody meets before they are known: in the browser's language, and with the choice of another. */
export function Door() {
  const language = useSyncExternalStore(onLanguage, screenLanguage);
  const [isReady, setIsReady] = useState(ownLanguage() === language);
  useEffect(() => {
    // A dictionary that cannot be had leaves the page in English.
    void setScreenLanguage(ownLanguage())
      .catch(() => undefined)
      .then(() => setIsReady(true));
  }, []);
  if (!isReady)
    return (
      <main className="p-6">
        <Loading rows={3} />
      </main>
    );
  return (
    <>
      <Outlet key={language} />
      <footer className="flex justify-center p-4">
        <label className="flex items-center gap-2 text-sm">
          <span className="text-soft">{t('Language')}</span>
          <select
            value={language}
            onChange={e => chooseLanguage(e.target.value as ScreenLanguage)}
            className="min-h-11 border-2 border-edge bg-sheet px-2"
          >
            {Object.entries(SCREEN_LANGUAGES).map(([tag, name]) => (
              <option key={tag} value={tag} lang={tag}>
                {name}
              </option>
            ))}
          </select>
        </label>
      </footer>
    </>
  );
}
