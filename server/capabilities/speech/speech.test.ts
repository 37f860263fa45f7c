import type { SittingView } from '@ecoute/contract/sittings';
import { SPOKEN_LANGUAGES } from '@ecoute/core/voice/spokenWords';
import { spokenItem, TestEcoute, type Visitor } from '../../testing/ecoute';
import { asked } from '../recordings/tools';
import { blankStimulus } from '@ecoute/contract/blank';
import { randomUUID } from 'node:crypto';
import { speak } from './speech';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Length of a sound, in ms. */
async function lengthOf(sound: Buffer): Promise<number> {
  const folder = await mkdtemp(join(tmpdir(), 'ecoute-heard-'));
  const path = join(folder, 'said.mp3');
  await writeFile(path, sound);
  const { out } = await asked('ffprobe', [
    '-v',
    'error',
    '-of',
    'csv=p=0',
    '-show_entries',
    'format=duration',
    path,
  ]);
  await rm(folder, { recursive: true });
  return 1000 * Number(out);
}

const passage = blankStimulus(randomUUID(), 'passage', { text: 'Boats come in.' });

describe('the voice of the server', () => {
  let t: TestEcoute;
  let student: Visitor;
  let sitting: SittingView;
  beforeAll(async () => {
    t = await TestEcoute.open();
    const classId = await t.class();
    const teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    const items = [
      spokenItem({ promptText: 'What do you see?' }),
      spokenItem({ promptText: '', stimuli: [passage] }),
    ];
    const release = await t.release(teacher, classId, {}, undefined, { items });
    sitting = (await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`)).body;
  });
  afterAll(() => t.close());

  it('says a sentence in every language, longer ones longer', async () => {
    for (const language of SPOKEN_LANGUAGES)
      expect(
        await lengthOf(await speak(language, language === 'ja' ? 'こんにちは' : 'banana')),
      ).toBeGreaterThan(300);
    const [short, long] = [
      await speak('en', 'One.'),
      await speak('en', 'One two three four five six seven.'),
    ];
    expect(await lengthOf(long)).toBeGreaterThan(1.5 * (await lengthOf(short)));
  });

  it('speaks words that look like options, and none that are none', async () => {
    expect(await lengthOf(await speak('en', '--version -w /tmp/x'))).toBeGreaterThan(300);
    await expect(speak('en', '  ')).rejects.toMatchObject({ code: 'notFound' });
    await expect(speak('xx', 'words')).rejects.toMatchObject({ code: 'notFound' });
    await expect(speak('../en', 'words')).rejects.toMatchObject({ code: 'notFound' });
  });

  it('leads whoever asks, and says what is asked to the one who is asked', async () => {
    expect((await t.visitor().ask('GET', '/api/spoken-words/de-done')).status).toBe(200);
    expect((await t.visitor().ask('GET', '/api/spoken-words/de-nonsense')).status).toBe(404);
    expect((await t.visitor().ask('GET', '/api/spoken-words/xx-done')).status).toBe(404);
    const [first, empty] = sitting.content.items;
    const path = (id: string) => `/api/sittings/${sitting.id}/spoken/${id}?language=en`;
    expect((await student.ask('GET', path(first!.id))).status).toBe(200);
    expect((await student.ask('GET', path(empty!.id))).status).toBe(404);
    const other = await t.person('student', [await t.class()]);
    expect((await other.ask('GET', path(first!.id))).status).toBe(404);
  });
});
