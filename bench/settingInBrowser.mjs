/* global PointerEvent, requestAnimationFrame */
// The editor with a long assessment, in a real browser: how long it takes to open, and what one step of a drag costs.
import { chromium } from '@playwright/test';

const quartiles = times => {
  const sorted = [...times].sort((a, b) => a - b);
  return { median: sorted[sorted.length >> 1], least: sorted[0], most: sorted.at(-1) };
};

export async function editorInBrowser(base, items) {
  const browser = await chromium.launch({
    executablePath: process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--no-first-run'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(base);
    await page.getByLabel('Your name').fill('Bench');
    await page.getByLabel('Sign-in name').fill('bench');
    await page.getByLabel('Password').fill('a-long-password');
    await page.keyboard.press('Enter');
    await page.getByRole('navigation', { name: 'Main' }).waitFor();
    await page.goto(`${base}/set`);
    await page.getByRole('button', { name: 'Set a new assessment' }).click();
    await page.getByLabel('Prompt', { exact: true }).fill('Say what you see.');
    await page.getByText('Everything is saved').waitFor();
    const id = page.url().split('/').at(-1);
    await page.evaluate(
      async ([draftId, n]) => {
        const draft = await (await fetch(`/api/assessments/${draftId}`)).json();
        const [first] = draft.content.items;
        const content = {
          ...draft.content,
          items: Array.from({ length: n }, (_, i) => ({ ...first, id: i ? crypto.randomUUID() : first.id })),
        };
        await fetch(`/api/assessments/${draftId}`, {
          method: 'PUT',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ revision: draft.revision, content }),
        });
      },
      [id, items],
    );
    const opening = [];
    for (let i = 0; i < 5; i++) {
      await page.goto(`${base}/set`);
      const link = page.locator(`a[href="/set/${id}"]`);
      await link.waitFor();
      // Whoever presses has looked for it.
      await page.waitForTimeout(500);
      const began = Date.now();
      await link.click();
      // Asked for by its label alone: to look for it by what everything is called takes longer than to draw it.
      await page.locator(`[aria-label="Move item ${items}"]`).waitFor();
      opening.push(Date.now() - began);
    }
    const edge = page.getByRole('slider', { name: 'End of the answer, item 1' });
    const box = await edge.boundingBox();
    // Script time of each step: from the pointer's event until React has put its result into the document.
    const steps = await edge.evaluate(
      async (handle, { x, y }) => {
        const fire = (type, dx) =>
          handle.dispatchEvent(
            new PointerEvent(type, {
              bubbles: true,
              pointerId: 1,
              clientX: x + dx,
              clientY: y,
              isPrimary: true,
            }),
          );
        handle.setPointerCapture = () => undefined;
        fire('pointerdown', 0);
        const times = [];
        for (let i = 1; i <= 60; i++) {
          const began = performance.now();
          fire('pointermove', i * 3);
          await new Promise(resolve => setTimeout(resolve));
          times.push(performance.now() - began);
          await new Promise(requestAnimationFrame);
        }
        fire('pointerup', 180);
        return times;
      },
      { x: box.x, y: box.y + 10 },
    );
    return [
      { name: `${items} items: the editor opens`, ...quartiles(opening), budgetMs: 500 },
      { name: `${items} items: one step of a drag`, ...quartiles(steps), budgetMs: 16 },
    ];
  } finally {
    await browser.close();
  }
}
