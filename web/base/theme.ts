/** Light, dark, or as the device has it. Kept on this device. */
export type Theme = 'light' | 'dark' | 'device';

const KEY = 'ecoute-theme';

export function chosenTheme(): Theme {
  const kept = localStorage.getItem(KEY);
  return kept === 'light' || kept === 'dark' ? kept : 'device';
}

export function applyTheme(theme: Theme = chosenTheme()): void {
  if (theme === 'device') {
    delete document.documentElement.dataset.theme;
    localStorage.removeItem(KEY);
  } else {
    document.documentElement.dataset.theme = theme;
    localStorage.setItem(KEY, theme);
  }
}
