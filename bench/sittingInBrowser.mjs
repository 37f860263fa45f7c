/* global AudioContext, AudioNode, AudioDestinationNode, DelayNode */
// A click track played as the teacher's turns and fed back as the microphone: how near to the clicks the answers'
// windows are placed. The loop runs inside the page, through a delay that stands for loudspeaker, air and queues:
// everything that goes to the loudspeaker also goes, later, into the microphone.
import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { chromium } from '@playwright/test';

const TURNS = 8;
const RATE = 48_000;
const TURN_MS = 500;
const CLICK_AT_MS = 300;
const GAP_MS = 1_500;
/** One sitting for each; in ms. */
const LOOPS = [12, 35, 80, 140];

/** All turns one after the other, each with one click in it, as WAV. */
function clickTrack() {
  const samples = (TURNS * RATE * TURN_MS) / 1000;
  const wav = Buffer.alloc(44 + samples * 2);
  wav.write('RIFF', 0);
  wav.writeUInt32LE(36 + samples * 2, 4);
  wav.write('WAVEfmt ', 8);
  wav.writeUInt32LE(16, 16);
  wav.writeUInt16LE(1, 20);
  wav.writeUInt16LE(1, 22);
  wav.writeUInt32LE(RATE, 24);
  wav.writeUInt32LE(RATE * 2, 28);
  wav.writeUInt16LE(2, 32);
  wav.writeUInt16LE(16, 34);
  wav.write('data', 36);
  wav.writeUInt32LE(samples * 2, 40);
  for (let turn = 0; turn < TURNS; turn++) {
    const at = (RATE * (turn * TURN_MS + CLICK_AT_MS)) / 1000;
    for (let i = 0; i < 96; i++)
      wav.writeInt16LE(Math.round(24_000 * Math.sin((2 * Math.PI * 1_500 * i) / RATE)), 44 + (at + i) * 2);
  }
  return wav;
}

/** Where clicks begin in a stored take, in ms. */
function clicksIn(path) {
  const { stdout } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', path, '-ac', '1', '-ar', String(RATE), '-f', 'f32le', '-'],
    {
      maxBuffer: 1 << 28,
    },
  );
  const samples = new Float32Array(stdout.buffer.slice(stdout.byteOffset, stdout.byteOffset + stdout.length));
  const found = [];
  for (let i = 0; i < samples.length; i++)
    if (Math.abs(samples[i]) > 0.15) {
      found.push((i / RATE) * 1000);
      i += RATE / 4;
    }
  return found;
}

const api = (page, path, method = 'GET', body) =>
  page.evaluate(
    async ([url, verb, data]) => {
      const response = await fetch(url, {
        method: verb,
        headers: data ? { 'Content-Type': 'application/json' } : {},
        body: data && JSON.stringify(data),
      });
      const text = await response.text();
      if (!response.ok) throw new Error(`${verb} ${url}: ${response.status} ${text}`);
      return text ? JSON.parse(text) : null;
    },
    [path, method, body ?? null],
  );

/**
 * @param content of an assessment with one item
 * @param placed  core's `answersIn`
 * @returns distances between windows and clicks in ms, and the scripts of a student's first page in bytes
 */
export async function inBrowser(base, dataDir, content, answersIn, say) {
  const browser = await chromium.launch({
    executablePath: process.env.ECOUTE_CHROMIUM ?? '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-background-networking',
      '--use-fake-ui-for-media-stream',
      '--use-fake-device-for-media-stream',
      '--autoplay-policy=no-user-gesture-required',
    ],
  });
  try {
    const teacher = await (await browser.newContext({ baseURL: base })).newPage();
    await teacher.goto('/sign-in');
    await api(teacher, '/api/session', 'POST', { signInName: 'bench', password: 'a-long-password' });
    const made = await api(teacher, '/api/assessments', 'POST', content);
    const recordingId = randomUUID();
    await api(teacher, `/api/assessments/${made.id}/prompts`, 'POST', {
      recordingId,
      mediaType: 'audio/wav',
      source: 'uploaded',
      fileName: 'clicks.wav',
    });
    await teacher.evaluate(
      async ([id, base64]) => {
        const bytes = Uint8Array.from(atob(base64), c => c.charCodeAt(0));
        await fetch(`/api/uploads/${id}`, {
          method: 'PATCH',
          headers: {
            'Tus-Resumable': '1.0.0',
            'Content-Type': 'application/offset+octet-stream',
            'Upload-Offset': '0',
            'Upload-Length': String(bytes.length),
          },
          body: bytes,
        });
        while ((await (await fetch(`/api/recordings/${id}`)).json()).state !== 'stored')
          await new Promise(resolve => setTimeout(resolve, 50));
      },
      [recordingId, clickTrack().toString('base64')],
    );
    const turns = Array.from({ length: TURNS }, (_, turn) => ({
      id: randomUUID(),
      recordingId,
      fromMs: turn * TURN_MS,
      toMs: (turn + 1) * TURN_MS,
      gapMs: GAP_MS,
      says: '',
    }));
    const item = { ...content.items[0], isConversation: true, turns, prepareMs: 0, startsBy: 'student' };
    const draft = await api(teacher, `/api/assessments/${made.id}`);
    await api(teacher, `/api/assessments/${made.id}`, 'PUT', {
      revision: draft.revision,
      content: { ...draft.content, items: [item] },
    });
    const [group] = await api(teacher, '/api/classes');
    const release = await api(teacher, '/api/releases', 'POST', {
      assessmentId: made.id,
      classId: group.id,
      dueAt: new Date(Date.now() + 86_400_000).toISOString(),
      lateAccepted: true,
      note: '',
    });
    const errors = [];
    const loops = [];
    let scriptBytes = 0;
    for (const [n, loopMs] of LOOPS.entries()) {
      const context = await browser.newContext({
        baseURL: base,
        permissions: ['microphone'],
        locale: 'en-GB',
      });
      const page = await context.newPage();
      await page.addInitScript(ms => {
        const ends = new Map();
        const connect = AudioNode.prototype.connect;
        AudioNode.prototype.connect = function (to, ...rest) {
          if (to instanceof AudioDestinationNode) {
            let end = ends.get(this.context);
            if (!end) {
              end = new DelayNode(this.context, { delayTime: ms / 1000, maxDelayTime: 1 });
              ends.set(this.context, end);
            }
            connect.call(this, end);
          }
          return connect.call(this, to, ...rest);
        };
        // The microphone is whatever the loudspeaker plays.
        const create = AudioContext.prototype.createMediaStreamSource;
        AudioContext.prototype.createMediaStreamSource = function (stream) {
          create.call(this, stream);
          const end = new DelayNode(this, { delayTime: ms / 1000, maxDelayTime: 1 });
          ends.set(this, end);
          return end;
        };
      }, loopMs);
      await page.goto('/sign-in');
      await api(page, '/api/session', 'POST', { signInName: `s${n + 1}`, password: 'a-long-password' });
      if (n === 0) {
        await page.goto('/');
        await page.getByRole('heading', { name: 'Now' }).waitFor();
        scriptBytes = await page.evaluate(() =>
          performance
            .getEntriesByType('resource')
            .filter(e => /\.js$/.test(new URL(e.name).pathname))
            .reduce((sum, e) => sum + e.encodedBodySize, 0),
        );
      }
      await page.goto(`/sit/${release.id}`);
      await page.getByRole('button', { name: /Check the microphone/ }).click();
      await page.getByRole('button', { name: 'Record two seconds and hear them' }).click();
      await page.getByText(/hears this device/).waitFor();
      await page.getByRole('button', { name: /^(Go on|I am heard)/ }).click();
      await page.getByRole('button', { name: 'Begin the conversation' }).click();
      await page.getByText('stored safely').waitFor({ timeout: 120_000 });
      const { takes } = await api(page, `/api/releases/${release.id}/sitting`, 'POST');
      const { clock, recording } = takes[0];
      loops.push(clock.loopMs);
      const clicks = clicksIn(join(dataDir, 'sounds/originals', recording.id));
      const windows = answersIn(turns, { clock, gateMs: recording.gateMs });
      if (clicks.length !== TURNS) throw new Error(`${clicks.length} of ${TURNS} clicks were found again.`);
      windows.forEach((w, i) => errors.push(w.startMs - (clicks[i] + TURN_MS - CLICK_AT_MS)));
      say(`loop of ${loopMs} ms: measured ${clock.loopMs.toFixed(1)} ms`);
      await context.close();
    }
    return { errors, loops, scriptBytes };
  } finally {
    await browser.close();
  }
}
