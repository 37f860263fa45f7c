import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** Text set wider, as readers may (WCAG 1.4.12): nothing is cut off, and nothing is wider than the screen. */
async function spaced(page: Page, name: string): Promise<void> {
  const found = await page.evaluate(() => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(
      '* { line-height: 1.5 !important; letter-spacing: 0.12em !important; word-spacing: 0.16em !important } p { margin-bottom: 2em !important }',
    );
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, sheet];
    const cut = [...document.querySelectorAll<HTMLElement>('button, a, h1, h2, h3, label, summary')]
      .filter(e => {
        const { overflowX, overflowY, textOverflow } = getComputedStyle(e);
        // What is shortened on purpose says so with its dots, and is whole elsewhere.
        if (textOverflow === 'ellipsis' || e.closest('.sr-only')) return false;
        const hides = (overflow: string) => overflow === 'hidden' || overflow === 'clip';
        return (
          (hides(overflowX) && e.scrollWidth > e.clientWidth + 1) ||
          (hides(overflowY) && e.scrollHeight > e.clientHeight + 1)
        );
      })
      .map(e => `cut off: ${(e.getAttribute('aria-label') ?? e.textContent ?? '').slice(0, 60)}`);
    const { scrollWidth } = document.documentElement;
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter(s => s !== sheet);
    return [...cut, ...(scrollWidth > window.innerWidth + 1 ? [`${scrollWidth} px wide`] : [])];
  });
  expect(found.map(what => `${name}, text set wide: ${what}`)).toEqual([]);
}

/**
 * WCAG 2.2 A and AA as far as a program can tell, and nothing wider than the screen. In the light theme: that the dark one is
 * as easy to read is shown for its colours (`web/base/theme.test.ts`).
 */
export async function fit(page: Page, name: string, isStill = true): Promise<void> {
  // Sound that is fetched as it plays leaves no moment without a request.
  // A page that goes on asking for something is looked at as it is then.
  if (isStill) await page.waitForLoadState('networkidle', { timeout: 20_000 }).catch(() => undefined);
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(
    violations.map(v => `${name}: ${v.id}: ${v.nodes.map(n => n.target.join(' ')).join(' | ')}`),
  ).toEqual([]);
  await spaced(page, name);
  const { wide, screen } = await page.evaluate(() => ({
    wide: document.documentElement.scrollWidth,
    screen: window.innerWidth,
  }));
  expect([name, wide]).toEqual([name, Math.min(wide, screen)]);
}
