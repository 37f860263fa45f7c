// What a student waits for on a slow phone and a slow line, from the first visit to the recording: seconds until something can be
// pressed, and how much of the main thread a recording takes.
const SLOW = { offline: false, latency: 400, downloadThroughput: 50_000, uploadThroughput: 50_000 };
const SLOWER = 4;
const WATCHED_MS = 5_000;

/**
 * Until somebody can sign in, and until they have their first page.
 * @param page a page of somebody who is signed in, and has fetched nothing yet
 * @param title a release on their first page
 * @returns seconds by what was waited for, the card of the release, and what measures more
 */
export async function untilFirst(page, title) {
  const devtools = await page.context().newCDPSession(page);
  await devtools.send('Network.enable');
  await devtools.send('Performance.enable');
  await devtools.send('Network.emulateNetworkConditions', SLOW);
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
  const found = [];
  const measured = async (what, mostSec, does, seen) => {
    const began = performance.now();
    await does();
    await seen.waitFor({ timeout: 60_000 });
    found.push({ what, sec: (performance.now() - began) / 1_000, mostSec });
  };
  // Signing in is seen by whoever is not in yet.
  const cookies = await page.context().cookies();
  await page.context().clearCookies();
  // Painted, and with what listens to it; the application itself comes while somebody types.
  const form = page.locator('form[data-ready]');
  await measured('signing in, cold', 4, () => page.goto('/sign-in', { waitUntil: 'commit' }), form);
  const painted = () => performance.getEntriesByName('first-contentful-paint')[0]?.startTime ?? null;
  const paintedMs = await (await page.waitForFunction(painted, null, { timeout: 60_000 })).jsonValue();
  found[0].sec = Math.max(found[0].sec, paintedMs / 1_000);
  await page.locator('#porch').waitFor({ state: 'detached', timeout: 60_000 });
  await page.context().addCookies(cookies);
  const card = page.getByRole('listitem').filter({ hasText: title }).getByRole('link');
  await measured(
    'the first page, cold but for what signing in fetched',
    4,
    () => page.goto('/', { waitUntil: 'commit' }),
    card.first(),
  );
  return { found, card, measured, devtools };
}

/**
 * On from there into a sitting, as far as the first recording.
 * @param page and title as above
 * @returns seconds by what was waited for, and the share of the main thread while recording
 */
export async function weights(page, title) {
  const { found, card, measured, devtools } = await untilFirst(page, title);
  const begin = page.getByRole('button', { name: /Check the microphone/ });
  await measured('a sitting', 1.5, () => card.first().click(), begin);
  const goesOn = page.getByRole('button', { name: 'I am heard: go on' });
  await begin.click();
  await goesOn.waitFor({ timeout: 60_000 });
  const answer = page.getByRole('button', { name: 'Answer now' });
  await measured('the first item', 1.5, () => goesOn.click(), answer);
  await answer.click();
  await page.getByTestId('time-left').waitFor({ timeout: 30_000 });
  const busy = async () => {
    const { metrics } = await devtools.send('Performance.getMetrics');
    return metrics.find(m => m.name === 'TaskDuration').value;
  };
  const [before, at] = [await busy(), performance.now()];
  await page.waitForTimeout(WATCHED_MS);
  const share = ((await busy()) - before) / ((performance.now() - at) / 1_000);
  await page.getByRole('button', { name: 'I have finished: stop' }).click();
  return { found, share };
}
