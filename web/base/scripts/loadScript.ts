/** Fonts for scripts that the interface's own lack; fetched when something in such a language is shown. */
const SCRIPTS: [RegExp, () => Promise<unknown>][] = [
  [/^(ar|fa|ur)\b|-Arab/, () => import('./arabic.css')],
  [/^(he|yi)\b|-Hebr/, () => import('./hebrew.css')],
  [/^(hi|mr|ne)\b|-Deva/, () => import('./devanagari.css')],
  [/^ja\b/, () => import('./jp.css')],
  [/^ko\b/, () => import('./kr.css')],
  [/^zh\b/, () => import('./sc.css')],
];

/** Fetches the fonts of a language once; where that fails the device's own letters are shown. */
export function loadScript(language: string): void {
  const found = SCRIPTS.find(([which]) => which.test(language));
  found?.[1]().catch(() => undefined);
}
