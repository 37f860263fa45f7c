import { sayAll, type Says, type VoiceMeans } from './voice';

/** Means that note what they were asked for. */
function noted(withDevice: boolean, fails: (url: string) => boolean = () => false) {
  const done: string[] = [];
  const means: VoiceMeans = {
    play: async url => {
      if (fails(url)) throw new Error('away');
      done.push(`play ${url}`);
    },
    speak: withDevice ? async text => void done.push(`speak ${text}`) : null,
  };
  return { done, means };
}

const all: Says[] = [
  { recordingId: 'prompt' },
  { text: 'Was siehst du?', url: '/api/sittings/s/spoken/i' },
  { word: 'heard' },
];
const recorded = new Map([['heard', 'teachers-heard']]);

test('the teacher’s own recording goes before the device’s voice, and that before the server’s', async () => {
  const here = noted(true);
  expect(await sayAll(all, recorded, 'de', here.means, new AbortController().signal)).toBe(true);
  expect(here.done).toEqual([
    'play /api/recordings/prompt/sound',
    'speak Was siehst du?',
    'play /api/recordings/teachers-heard/sound',
  ]);
  const bare = noted(false);
  await sayAll(all, new Map(), 'de-AT', bare.means, new AbortController().signal);
  expect(bare.done).toEqual([
    'play /api/recordings/prompt/sound',
    'play /api/sittings/s/spoken/i?language=de-AT',
    'play /api/spoken-words/de-heard',
  ]);
});

test('a language without sentences of its own is led in English', async () => {
  const bare = noted(false);
  await sayAll([{ word: 'done' }], new Map(), 'cy', bare.means, new AbortController().signal);
  expect(bare.done).toEqual(['play /api/spoken-words/en-done']);
});

test('what cannot be had does not keep the rest from being said', async () => {
  const gaps = noted(false, url => url.includes('prompt'));
  expect(await sayAll(all, recorded, 'de', gaps.means, new AbortController().signal)).toBe(false);
  expect(gaps.done).toHaveLength(2);
});

test('stopped, nothing more is said', async () => {
  const stop = new AbortController();
  const here = noted(false);
  const play = here.means.play;
  here.means.play = async (url, signal) => {
    await play(url, signal);
    stop.abort();
  };
  expect(await sayAll(all, recorded, 'de', here.means, stop.signal)).toBe(false);
  expect(here.done).toEqual(['play /api/recordings/prompt/sound']);
});
