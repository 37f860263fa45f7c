import { chromium, expect, type Browser, type BrowserContext, type Page } from '@playwright/test';
import type { AssessmentContent, Item } from '@ecoute/contract/assessments';
import type { ReleaseDetail, ReleaseSummary } from '@ecoute/contract/releases';
import { blankContent, blankItem } from '@ecoute/contract/blank';

/**
 * What holds sound or clocks against what was played has the machine to itself: where three browsers share two
 * cores, Chromium loses moments of its microphone, and such a take is rightly given back instead of used up.
 */
export const ALONE = { tag: '@alone' };

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

/**
 * Signs somebody in, in a browser window of their own.
 * @param opens their first page opens; without, the window is empty until the journey goes somewhere
 */
export async function signIn(
  browser: Browser,
  name: string,
  size: 'desk' | 'phone' = 'desk',
  { opens = true } = {},
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
  if (opens) {
    await page.goto('/');
    await expect(page.getByRole('navigation', { name: 'Main' })).toBeVisible();
  }
  return { context, page };
}

/** Asks the API as the person of a page, whatever the page shows. */
export async function ask<T>(
  page: Page,
  path: string,
  method = 'GET',
  body?: unknown,
): Promise<{ status: number; body: T }> {
  const response = await page.request.fetch(path, {
    method,
    headers: { Origin: baseURL },
    ...(body !== undefined && { data: body }),
  });
  const text = await response.text();
  return { status: response.status(), body: (text ? JSON.parse(text) : null) as T };
}

/** A release of whoever is signed in on a page, by its title, with what is sat. */
export async function releaseCalled(page: Page, title: string): Promise<ReleaseDetail> {
  const { body } = await ask<ReleaseSummary[]>(page, '/api/releases');
  return (await ask<ReleaseDetail>(page, `/api/releases/${body.find(r => r.title === title)!.id}`)).body;
}

/** Through the device check to the first item; or straight there, where this browser's microphone was heard before. */
export async function passDeviceCheck(page: Page): Promise<void> {
  const begin = page.getByRole('button', {
    name: /Check the microphone|Go on with item|Look at the items again/,
  });
  const item = page.getByRole('heading', { name: /Item \d+ of \d+/ });
  const level = page.getByRole('img', { name: 'Level of the microphone' });
  await expect(begin.or(item).first()).toBeVisible();
  if (await begin.isVisible()) await begin.click();
  await expect(level.or(item).first()).toBeVisible();
  if (await item.isVisible()) return;
  await page.getByRole('button', { name: /^(Go on|I am heard)/ }).click();
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

/** A WAV, 16 kHz mono: a tone in each second with a pause after it, so that there is something to see and to leave out. */
function tones(seconds: number): Buffer {
  const rate = 16_000;
  const count = rate * seconds;
  const wav = Buffer.alloc(44 + count * 2);
  wav.write('RIFF', 0);
  wav.writeUInt32LE(36 + count * 2, 4);
  wav.write('WAVEfmt ', 8);
  [16, 0x10001, rate, rate * 2, 0x100002].forEach((n, i) => wav.writeUInt32LE(n, 16 + i * 4));
  wav.write('data', 36);
  wav.writeUInt32LE(count * 2, 40);
  for (let i = 0; i < count; i++)
    wav.writeInt16LE(i % rate < rate * 0.6 ? Math.round(9_000 * Math.sin(i / 9)) : 0, 44 + i * 2);
  return wav;
}

/** Sends bytes of a recording that was announced, and waits until they were looked at. */
async function send(page: Page, recordingId: string, bytes: Buffer): Promise<void> {
  const sent = await page.request.patch(`/api/uploads/${recordingId}`, {
    headers: {
      Origin: baseURL,
      'Tus-Resumable': '1.0.0',
      'Content-Type': 'application/offset+octet-stream',
      'Upload-Offset': '0',
      'Upload-Length': String(bytes.length),
    },
    data: bytes,
  });
  if (sent.status() !== 204) throw new Error(`upload: ${sent.status()}`);
  await expect
    .poll(async () => (await ask<{ state: string }>(page, `/api/recordings/${recordingId}`)).body.state)
    .toBe('stored');
}

/** A teacher's file, stored with one of their assessments, to be put into items of `released`. */
export async function stored(
  teacher: Page,
  file: { name: string; mimeType: string; buffer: Buffer },
  wanted: 'show' | 'picture' | 'sound',
): Promise<string> {
  const made = await ask<{ id: string }>(
    teacher,
    '/api/assessments',
    'POST',
    blankContent('homework', { title: file.name }),
  );
  const recordingId = crypto.randomUUID();
  const announced = await ask(teacher, `/api/assessments/${made.body.id}/prompts`, 'POST', {
    recordingId,
    mediaType: file.mimeType,
    source: 'uploaded',
    fileName: file.name,
    wanted,
  });
  expect(announced.status).toBe(200);
  await send(teacher, recordingId, file.buffer);
  return recordingId;
}

/** Sits a release as the student of a page, by the API: a tone of so many seconds for each item, handed in. */
export const handInTones = (student: Page, releaseId: string, seconds = 6): Promise<string> =>
  handInSound(student, releaseId, tones(seconds), 'audio/wav');

/** The same with any sound. */
export async function handInSound(
  student: Page,
  releaseId: string,
  sound: Buffer,
  mediaType: string,
): Promise<string> {
  const does = async <T>(path: string, method: string, body?: unknown): Promise<T> => {
    const answer = await ask<T>(student, path, method, body);
    if (answer.status >= 400) throw new Error(`${path}: ${answer.status} ${JSON.stringify(answer.body)}`);
    return answer.body;
  };
  const sitting = await does<{ id: string; content: { items: { id: string; answerBy: string }[] } }>(
    `/api/releases/${releaseId}/another-sitting`,
    'POST',
    {},
  );
  for (const item of sitting.content.items.filter(i => i.answerBy === 'audio')) {
    const recordingId = crypto.randomUUID();
    await does(`/api/sittings/${sitting.id}/takes`, 'POST', {
      recordingId,
      itemId: item.id,
      mediaType,
      beganAt: new Date().toISOString(),
      fileName: null,
    });
    await send(student, recordingId, sound);
  }
  await does(`/api/sittings/${sitting.id}/hand-in`, 'POST', { withGaps: false });
  return sitting.id;
}
