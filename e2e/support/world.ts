import { chromium, expect, type Browser, type BrowserContext, type Page } from '@playwright/test';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import type { ReleaseDetail, ReleaseSummary } from '@ecoute/contract/releases';
import { blankContent, blankItem } from '@ecoute/contract/blank';

export const PASSWORD = 'harbour-lights';

// Without the window that nobody sees: a fifth less work for the machine.
const CHROMIUM = process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium-headless-shell';

/**
 * A browser whose microphone plays a file. The file begins anew with each start of the browser and loops.
 * @param wav 48 kHz WAV
 */
export function browserHearing(wav: string): Promise<Browser> {
  return chromium.launch({
    executablePath: CHROMIUM,
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      `--use-file-for-fake-audio-capture=${wav}`,
      '--autoplay-policy=no-user-gesture-required',
    ],
  });
}

export interface Person {
  context: BrowserContext;
  page: Page;
}

const baseURL = process.env.ECOUTE_URL ?? 'http://127.0.0.1:4310';

/** Signs somebody in, in a browser window of their own. */
export async function signIn(
  browser: Browser,
  name: string,
  size: 'desk' | 'phone' = 'desk',
): Promise<Person> {
  const context = await browser.newContext({
    baseURL,
    locale: 'en-GB',
    permissions: ['microphone'],
    viewport: size === 'desk' ? { width: 1280, height: 800 } : { width: 390, height: 844 },
    hasTouch: size === 'phone',
  });
  const page = await context.newPage();
  const problems: string[] = [];
  page.on('pageerror', error => problems.push(error.message));
  page.on('console', message => {
    // A blocked style or script would be a hole in the page, not a matter of taste.
    if (message.text().includes('Content Security Policy')) problems.push(message.text());
  });
  context.on('close', () => expect(problems).toEqual([]));
  // Not through the form: that is a journey of its own, and this happens two hundred times.
  const signedIn = await context.request.post('/api/session', {
    headers: { Origin: baseURL },
    data: { signInName: `${name}@brackwater.example`, password: PASSWORD },
  });
  expect(signedIn.status()).toBe(200);
  await page.goto('/');
  await expect(page.getByRole('navigation', { name: 'Main' })).toBeVisible();
  return { context, page };
}

/** Asks the API as the person of a page, from inside the page (cookie and origin are the browser's own). */
export async function ask<T>(
  page: Page,
  path: string,
  method = 'GET',
  body?: unknown,
): Promise<{ status: number; body: T }> {
  return page.evaluate(
    async ([url, verb, data]) => {
      const response = await fetch(url, {
        method: verb,
        ...(data !== null && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(data) }),
      });
      const text = await response.text();
      return { status: response.status, body: text ? JSON.parse(text) : null };
    },
    [path, method, body ?? null] as const,
  ) as Promise<{ status: number; body: T }>;
}

/** A release of whoever is signed in on a page, by its title, with what is sat. */
export async function releaseCalled(page: Page, title: string): Promise<ReleaseDetail> {
  const { body } = await ask<ReleaseSummary[]>(page, '/api/releases');
  return (await ask<ReleaseDetail>(page, `/api/releases/${body.find(r => r.title === title)!.id}`)).body;
}

/** Through the device check to the first item. */
export async function passDeviceCheck(page: Page): Promise<void> {
  await page.getByRole('button', { name: /Check the microphone|Go on with item/ }).click();
  await page.getByRole('button', { name: 'Allow the microphone' }).click();
  await expect(page.getByRole('img', { name: 'Level of the microphone' })).toBeVisible();
  await page.getByRole('button', { name: /^(Go on|I heard myself)/ }).click();
}

/** A fresh assessment of spoken items, set and released by its teacher through the API; for journeys about something else. */
export async function released(
  teacher: Page,
  title: string,
  items: Partial<Item>[],
  over: Partial<AssessmentContent> = {},
  classId?: string,
): Promise<string> {
  const made = await ask<{ id: string }>(teacher, '/api/assessments', 'POST', {
    ...blankContent('homework', {
      title,
      directions: 'Answer each item.',
      items: items.map(i => blankItem(crypto.randomUUID(), 'homework', { startsBy: 'itself', ...i })),
      ...over,
    }),
  });
  expect(made.status).toBe(200);
  // The demo’s own class: other journeys make small ones.
  const classes = await ask<{ id: string; students: number }[]>(teacher, '/api/classes');
  classes.body.sort((a, b) => b.students - a.students);
  const release = await ask<{ id: string }>(teacher, '/api/releases', 'POST', {
    assessmentId: made.body.id,
    classId: classId ?? classes.body[0]!.id,
    dueAt: new Date(Date.now() + 86_400_000).toISOString(),
    lateAccepted: true,
    note: '',
  });
  expect(release.status).toBe(200);
  return release.body.id;
}

/** Sits a release as the student of a page, by the API: a tone of so many seconds for each item, handed in. */
export async function handInTones(student: Page, releaseId: string, seconds = 6): Promise<string> {
  return student.evaluate(
    async ([id, length]) => {
      const json = async (path: string, method: string, body: unknown = {}) => {
        const response = await fetch(path, {
          method,
          headers: { 'Content-Type': 'application/json' },
          body: method === 'GET' ? undefined : JSON.stringify(body),
        });
        if (!response.ok) throw new Error(`${path}: ${response.status} ${await response.text()}`);
        return (response.status === 204 ? null : response.json()) as Promise<never>;
      };
      const rate = 16_000;
      const count = rate * length;
      const view = new DataView(new ArrayBuffer(44 + count * 2));
      const write = (at: number, text: string) =>
        [...text].forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)));
      write(0, 'RIFF');
      view.setUint32(4, 36 + count * 2, true);
      write(8, 'WAVEfmt ');
      [16, 0x10001, rate, rate * 2, 0x100002].forEach((n, i) => view.setUint32(16 + i * 4, n, true));
      write(36, 'data');
      view.setUint32(40, count * 2, true);
      // Two tones with a pause between them, so that there is something to see and to leave out.
      for (let i = 0; i < count; i++)
        view.setInt16(44 + i * 2, i % rate < rate * 0.6 ? 9_000 * Math.sin(i / 9) : 0, true);
      const sitting = (await json(`/api/releases/${id}/another-sitting`, 'POST')) as {
        id: string;
        content: { items: { id: string; answerBy: string }[] };
      };
      for (const item of sitting.content.items.filter(i => i.answerBy === 'audio')) {
        const recordingId = crypto.randomUUID();
        await json(`/api/sittings/${sitting.id}/takes`, 'POST', {
          recordingId,
          itemId: item.id,
          mediaType: 'audio/wav',
          beganAt: new Date().toISOString(),
          fileName: null,
        });
        const sent = await fetch(`/api/uploads/${recordingId}`, {
          method: 'PATCH',
          headers: {
            'Tus-Resumable': '1.0.0',
            'Content-Type': 'application/offset+octet-stream',
            'Upload-Offset': '0',
            'Upload-Length': String(view.byteLength),
          },
          body: view.buffer,
        });
        if (sent.status !== 204) throw new Error(`upload: ${sent.status}`);
        for (;;) {
          const { state } = (await json(`/api/recordings/${recordingId}`, 'GET')) as { state: string };
          if (state === 'stored') break;
          await new Promise(resolve => setTimeout(resolve, 100));
        }
      }
      await json(`/api/sittings/${sitting.id}/hand-in`, 'POST', { withGaps: false });
      return sitting.id;
    },
    [releaseId, seconds] as const,
  );
}
