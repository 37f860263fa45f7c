import { spawnSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync, renameSync, symlinkSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { EVIDENCE_REVISION, figuresOf, type Evidence } from '@ecoute/core/audio/evidence';
import { ANALYSIS_HZ } from '@ecoute/core/audio/halves';
import { partsOf } from '@ecoute/core/words/parts';
import { addClicks, melody, overNoise, TONES } from '@ecoute/core/testing/sounds';
import type { EvidenceOpens } from '@ecoute/contract/assessments';
import { blankMusic, blankStimulus } from '@ecoute/contract/blank';
import type { KnownText, ReleaseEvidence, TakeEvidence } from '@ecoute/contract/evidence';
import type { SittingView } from '@ecoute/contract/sittings';
import { handsOf, rhythmOf } from '../../../demo/score';
import { assessments } from '../../../demo/world';
import { hurry, recordTake, send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';
import { measureFile } from './measureFile';
import { measureTake, type ToMeasure } from './measureTake';
import { findRecording } from '../recordings/store';
import { takesNotMeasured, type Place } from './store';

const bell = assessments.find(a => a.key === 'bell')!.items[0]!;
const DEMO = join(__dirname, '../../../demo/audio');
const SPOKEN = join(DEMO, 'morning-wake-amara.ogg');

/** Samples at 16 kHz as a WAV file. */
function wav(samples: Float32Array): Uint8Array {
  const bytes = Buffer.from(tone(samples.length / ANALYSIS_HZ));
  samples.forEach((s, i) => bytes.writeInt16LE(Math.round(32_767 * s), 44 + 2 * i));
  return bytes;
}

/** A synthetic voice. @returns the path */
function speak(path: string, voice: string, text: string): string {
  const done = spawnSync('espeak-ng', ['-v', voice, '-s', '150', '-w', path, '--', text]);
  if (done.status !== 0) throw new Error(String(done.stderr));
  return path;
}

describe('what is measured of takes', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  async function sat(
    item: Parameters<TestEcoute['release']>[2],
    bytes: Uint8Array,
    evidenceOpens: EvidenceOpens = 'never',
  ) {
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, { answerLimitMs: 60_000, ...item }, undefined, {
      evidenceOpens,
    });
    return { release, ...(await answered(student, release, bytes)) };
  }
  async function answered(student: Visitor, release: { id: string; itemId: string }, bytes: Uint8Array) {
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    const { recordingId, recording } = await recordTake(student, body.id, release.itemId, bytes);
    expect(recording!.state).toBe('stored');
    return { student, sittingId: body.id, takeId: recordingId };
  }
  async function evidenceOf(takeId: string, by = teacher): Promise<Evidence> {
    for (;;) {
      const { status, body } = await by.ask<TakeEvidence>('GET', `/api/takes/${takeId}/evidence`);
      expect(status).toBe(200);
      if (body.state === 'problem') throw new Error(body.message);
      if (body.state === 'measured') return body.evidence;
      await new Promise(resolve => setTimeout(resolve, 50));
    }
  }
  const ofRelease = async (id: string) =>
    (await teacher.ask<ReleaseEvidence>('GET', `/api/releases/${id}/evidence`)).body;

  it('comes after each take automatically, as the command measures the same file, and its teachers are told', async () => {
    const told: unknown[] = [];
    const hangUp = await teacher.listen(m => told.push(m));
    const { takeId, release } = await sat({}, readFileSync(SPOKEN));
    const evidence = await evidenceOf(takeId);
    const measures = await measureFile(SPOKEN, 'speech');
    expect(evidence.as).toBe('speech');
    expect(evidence.pauses.length).toBe(measures.pauses.length);
    expect(evidence.speech!.speakingSec).toBeCloseTo(measures.speech!.speakingSec, 3);
    const { takes, usual } = await ofRelease(release.id);
    expect(takes[takeId]!.figures.pauseCount).toBe(measures.pauses.length);
    expect(takes[takeId]!.pauses[0]).toBe(Math.round(1000 * measures.pauses[0]!.startSec));
    // Of one answer nothing is called usual.
    expect(usual).toEqual({ [release.itemId]: {} });
    while (!told.some(m => (m as { kind: string }).kind === 'evidence'))
      await new Promise(resolve => setTimeout(resolve, 20));
    expect(told).toContainEqual({ kind: 'evidence', id: release.id });
    hangUp();
  });

  it('of a take that was cut is what is left of it', async () => {
    const { takeId, student } = await sat({ trimAllowed: true }, readFileSync(SPOKEN));
    const whole = await evidenceOf(takeId);
    const cut = await student.ask('PUT', `/api/takes/${takeId}/trim`, { fromMs: 4_000, toMs: 14_000 });
    expect(cut.status).toBe(200);
    const left = await evidenceOf(takeId);
    expect(left.durationSec).toBeCloseTo(10, 1);
    expect(left.speech!.syllables).toBeLessThan(whole.speech!.syllables);
    await student.ask('DELETE', `/api/takes/${takeId}/trim`);
    expect((await evidenceOf(takeId)).pauses).toEqual(whole.pauses);
  });

  it('is seen by its student as soon as the assessment says so, and by no other student', async () => {
    const bytes = tone(2);
    const never = await sat({}, bytes, 'never');
    const later = await sat({}, bytes, 'afterReturn');
    const atOnce = await sat({}, bytes, 'atOnce');
    const classmate = await t.person('student', [classId]);
    const seen = async (who: Visitor, takeId: string) =>
      (await who.ask('GET', `/api/takes/${takeId}/evidence`)).status;
    expect(await seen(never.student, never.takeId)).toBe(404);
    expect(await seen(later.student, later.takeId)).toBe(404);
    expect(await seen(atOnce.student, atOnce.takeId)).toBe(200);
    for (const { takeId } of [never, later, atOnce]) expect(await seen(classmate, takeId)).toBe(404);
    await later.student.ask('POST', `/api/sittings/${later.sittingId}/hand-in`, { withGaps: false });
    const { body } = await teacher.ask<{ lanes: { mark: { revision: number } | null }[] }>(
      'GET',
      `/api/releases/${later.release.id}/lanes`,
    );
    expect(body.lanes).toHaveLength(1);
    await teacher.ask('PUT', `/api/sittings/${later.sittingId}/marks/${later.release.itemId}`, {
      revision: 0,
      points: 3,
      comment: '',
      finished: true,
    });
    await teacher.ask('POST', `/api/releases/${later.release.id}/feedback`, {
      sittingIds: [later.sittingId],
    });
    expect(await seen(later.student, later.takeId)).toBe(200);
    // What students see of others, or of the whole class, is nothing.
    expect((await atOnce.student.ask('GET', `/api/releases/${atOnce.release.id}/evidence`)).status).toBe(404);
  });

  it('stands beside what is usual among the answers that count', async () => {
    const students: Visitor[] = [];
    for (let n = 0; n < 5; n++) students.push(await t.person('student', [classId]));
    const release = await t.release(teacher, classId, { answerLimitMs: 60_000, takesAllowed: 2 });
    const counting: string[] = [];
    for (const [n, student] of students.entries()) {
      if (n === 0) await answered(student, release, tone(9));
      const { takeId } = await answered(student, release, tone(2 + n));
      counting.push(takeId);
    }
    for (const takeId of counting) await evidenceOf(takeId);
    const { takes, usual } = await ofRelease(release.id);
    expect(Object.keys(takes).length).toBeGreaterThanOrEqual(5);
    const spoken = counting.map(id => takes[id]!.figures.speakingSec!).sort((a, b) => a - b);
    expect(usual[release.itemId]!.speakingSec).toMatchObject({
      count: 5,
      lowest: spoken[0],
      middle: spoken[2],
      highest: spoken[4],
    });
  });

  it('of music is held against the score that the item shows, as the teacher moved it', async () => {
    const scoreId = randomUUID();
    const file = join(t.config.dataDir, 'line.musicxml');
    const notes = ['C', 'D', 'E', 'F', 'G'].map(
      step => `<note><pitch><step>${step}</step><octave>4</octave></pitch><duration>1</duration></note>`,
    );
    writeFileSync(
      file,
      `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>T</part-name></score-part></part-list><part id="P1"><measure number="1"><attributes><divisions>1</divisions></attributes>${notes.join('')}</measure></part></score-partwise>`,
    );
    await t.ecoute.recordings.bringIn(file, {
      id: scoreId,
      ownerId: teacher.id,
      purpose: 'prompt',
      wanted: 'show',
      assessmentId: null,
      announcedType: 'application/xml',
      fileName: 'line.musicxml',
      limitMs: 60_000,
    });
    const stimuli = [blankStimulus(randomUUID(), 'notation', { recordingId: scoreId, semitones: 2 })];
    // D E F# G A as it is moved, with the third left out.
    const played = melody(
      [62, 64, 67, 69].map((midi, i) => ({ midi, startSec: 0.4 + 0.5 * (i > 1 ? i + 1 : i), sec: 0.45 })),
      TONES.rich!,
    );
    const { takeId, release } = await sat({ stimuli, music: blankMusic() }, wav(overNoise(played, -60)));
    const { as, target, line } = await evidenceOf(takeId);
    expect(as).toBe('music');
    expect(line!.map(n => n.midi)).toEqual([62, 64, 66, 67, 69]);
    expect(target!.notes.map(n => n.status)).toEqual(['played', 'played', 'missed', 'played', 'played']);
    expect((await ofRelease(release.id)).takes[takeId]!.figures).toMatchObject({ playedPercent: 80 });
  });

  it('of a beat is taken from the recording itself where its clicks are heard, else nothing is said against it', async () => {
    const metronome = { bpm: 120, beats: 4, countInBars: 1, heard: true };
    const music = { ...blankMusic(), metronome };
    const student = await t.person('student', [classId]);
    const release = await t.release(teacher, classId, { answerLimitMs: 60_000, takesAllowed: 0, music });
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    const beats = Array.from({ length: 16 }, (_, n) => ({ atMs: 100 + 500 * n, isFirst: n % 4 === 0 }));
    /** A take whose page did not know the loop: notes 30 ms after each beat as it was heard. */
    const take = async (lagMs: (n: number) => number, loud: number) => {
      const notes = beats.slice(4).map(({ atMs }, n) => ({
        midi: 62 + (n % 5),
        startSec: (atMs + lagMs(n + 4) + 30) / 1000,
        sec: 0.3,
      }));
      const sound = overNoise(melody(notes, TONES.rich!), -60);
      addClicks(sound, beats, lagMs, loud);
      const recordingId = randomUUID();
      const clock = {
        gated: true,
        soundFromMs: 100,
        answerFromMs: 2_100,
        loopMs: 20,
        loopMeasured: false,
        beat: { bpm: 120, beats: 4, countIn: 4 },
      };
      const announced = await student.ask('POST', `/api/sittings/${body.id}/takes`, {
        recordingId,
        itemId: release.itemId,
        mediaType: 'audio/wav',
        beganAt: new Date().toISOString(),
        clock,
      });
      expect(announced.status).toBe(200);
      await send(student, recordingId, wav(sound));
      await settled(student, recordingId);
      return evidenceOf(recordingId);
    };
    const heard = await take(() => 140, 0.1);
    const late = heard.beats!.map(b => 1000 * b.offSec);
    expect(late.length).toBeGreaterThan(8);
    for (const ms of late) expect(Math.abs(ms - 30)).toBeLessThan(15);
    expect(heard.remarks).toEqual([]);
    beats.forEach(({ atMs }, n) =>
      expect(Math.abs(1000 * heard.heardBeatsSec![n]! - atMs - 140)).toBeLessThan(2),
    );

    const jumped = await take(n => (n < 9 ? 60 : 120), 0.1);
    for (const { offSec } of jumped.beats!) expect(Math.abs(1000 * offSec - 30)).toBeLessThan(15);
    expect(jumped.remarks).toEqual([expect.stringMatching(/stumbled once .* by up to 60 ms/)]);

    const unheard = await take(() => 140, 0);
    expect([unheard.beats, unheard.heardBeatsSec]).toEqual([null, null]);
    expect(unheard.remarks).toEqual([expect.stringMatching(/was not measured/)]);
  });

  it('of a conversation says where its gaps are rough', async () => {
    const path = join(t.config.dataDir, 'turns.wav');
    writeFileSync(path, readFileSync(SPOKEN));
    const told = async (areGapsRough: boolean) => {
      const output = `${path}.json`;
      await measureTake({
        ...{ path, output, areGapsRough, as: 'speech', fromMs: 0, score: null, text: null, models: [] },
        gapsMs: [{ startMs: 0, endMs: 4_000 }],
        ...{ beatsMs: null, beatUnknown: null, sentBeats: [] },
      });
      return (JSON.parse(readFileSync(output, 'utf8')) as Evidence).remarks;
    };
    expect(await told(false)).toEqual([]);
    expect(await told(true)).toEqual([expect.stringMatching(/may be off by up to 0\.2 s/)]);
  });

  /** Words of a known text, as a synthetic voice was heard to say something. */
  const saidBy = async (said: string, known: KnownText): Promise<Evidence> => {
    const path = join(t.config.dataDir, 'said.wav');
    const output = `${path}.json`;
    speak(path, 'pt+f2', said);
    await measureTake({
      ...{
        path,
        output,
        areGapsRough: false,
        as: 'speech',
        fromMs: 0,
        score: null,
        gapsMs: null,
        models: [],
      },
      ...{ text: known, beatsMs: null, beatUnknown: null, sentBeats: [] },
    });
    return JSON.parse(readFileSync(output, 'utf8')) as Evidence;
  };

  it('of a prompt to repeat has the words of the written model answer, where they were said, and nothing of them where they were not', async () => {
    const text = 'Bom dia. Queria três limões e uma garrafa de azeite, se faz favor.';
    const model: KnownText = { of: 'model', text, language: 'pt' };
    const same = await saidBy(text, model);
    expect(same.words).toMatchObject({ of: 'model', fits: true, asked: null });
    expect(same.words!.words.filter(w => w === null)).toEqual([]);
    expect(same.reading!.wordsPerMinute).toBeGreaterThan(60);
    // In its own words: no wrong reading of the model, and no remark.
    const own = await saidBy('Hoje o mercado está fechado e vou a pé até à praia com a minha irmã.', model);
    expect([own.words, own.reading, own.remarks]).toEqual([null, null, []]);
    expect(own.speech!.syllables).toBeGreaterThan(12);
    const unspoken = await saidBy(text, { ...model, language: 'qq' });
    expect([unspoken.words, unspoken.remarks]).toEqual([null, []]);
  });

  it('of a dialogue has the words of the part that was spoken, and those of others for nobody’s', async () => {
    const lines = [
      ['Ana', 'Bom dia! Queria três limões e um pão grande.'],
      ['Rui', 'Com certeza. Mais alguma coisa para hoje?'],
      ['Ana', 'Sim, uma garrafa de azeite e meia dúzia de ovos.'],
      ['Rui', 'Aqui está. São doze euros e cinquenta.'],
    ] as const;
    const text = lines.map(([name, words]) => `${name}: ${words}`).join('\n');
    const passage: KnownText = { of: 'passage', text, language: 'pt' };
    const parts = partsOf(text, 'pt')!;
    for (const part of parts) {
      const said = lines.flatMap(([name, words]) => (name === part.name ? [words] : [])).join(' ');
      const { words, reading } = await saidBy(said, passage);
      expect(words).toMatchObject({ fits: true, asked: part.words });
      expect(words!.words.flatMap((w, i) => (w ? [i] : []))).toEqual(part.words);
      expect(reading!.words).toBe(part.words.length);
      expect(reading!.pauses.every(p => part.words.includes(p.word))).toBe(true);
    }
    // Both by one, without the names; and with a line of a part left out.
    const both = await saidBy(lines.map(l => l[1]).join(' '), passage);
    expect(both.words!.asked).toHaveLength(parts.flatMap(p => p.words).length);
    const half = await saidBy(
      'Bom dia! Queria três limões e um pão grande. Sim, meia dúzia de ovos.',
      passage,
    );
    expect(half.words!.asked).toEqual(parts[0]!.words);
    expect(parts[0]!.words.filter(w => half.words!.words[w] === null).length).toBeGreaterThanOrEqual(3);
  });

  it('of a passage lays its words on the sound, and says plainly where it cannot', async () => {
    const path = join(t.config.dataDir, 'read.ogg');
    writeFileSync(path, readFileSync(join(DEMO, 'bell-read-ilse.ogg')));
    const read = async (text: string, language: string, fromMs = 0): Promise<Evidence> => {
      const output = `${path}.json`;
      await measureTake({
        ...{ path, output, areGapsRough: false, as: 'speech', fromMs, score: null, gapsMs: null, models: [] },
        ...{
          text: { of: 'passage' as const, text, language },
          beatsMs: null,
          beatUnknown: null,
          sentBeats: [],
        },
      });
      return JSON.parse(readFileSync(output, 'utf8')) as Evidence;
    };
    const { text } = bell.passage!;
    const found = await read(text, 'pt');
    expect(found.words).toMatchObject({ fits: true });
    // “sempre” was left out, “tarde” said for “noite”, “uma gaivota” said twice, “logo” put in.
    expect([5, 9].map(w => found.words!.words[w])).toEqual([null, null]);
    expect(found.words!.extra).toMatchObject([
      { kind: 'inserted', afterIndex: 8 },
      { kind: 'repeat', fromIndex: 18, toIndex: 19 },
      { kind: 'inserted', afterIndex: 33 },
    ]);
    expect(found.reading!.pauses.filter(p => p.place === 'sentence').map(p => p.word)).toEqual([7, 12, 26]);
    expect(found.remarks).toEqual([]);
    // Times are those of the recording, wherever the answer begins in it.
    const later = await read(text, 'pt', 500);
    expect(later.words!.words[37]!.startSec).toBeCloseTo(found.words!.words[37]!.startSec, 1);
    const [other, unnamed, unspoken] = [
      await read('Sunt lacrimae rerum et mentem mortalia tangunt, quae quibus anteferam nescio.', 'la'),
      await read(text, ''),
      await read(text, 'qq'),
    ];
    expect(other).toMatchObject({ words: { fits: false }, reading: { wordsPerMinute: null, pauses: [] } });
    expect(other.remarks).toEqual([expect.stringMatching(/does not sound like the passage/)]);
    expect(unnamed.words).toBeNull();
    expect(unnamed.remarks).toContainEqual(expect.stringMatching(/names no language/));
    expect(unspoken.remarks).toContainEqual(expect.stringMatching(/does not speak the language/));
  });

  it('are there without a reference voice too: only the words are missing, and that is said', async () => {
    const root = join(__dirname, '../../..');
    const bin = join(t.config.dataDir, 'bin');
    mkdirSync(bin);
    for (const tool of ['ffmpeg', 'ffprobe']) symlinkSync(join('/usr/bin', tool), join(bin, tool));
    const without = (...args: string[]) =>
      spawnSync(process.execPath, args, { env: { ...process.env, PATH: bin }, encoding: 'utf8' });
    const output = join(t.config.dataDir, 'without.json');
    const { text } = bell.passage!;
    const task: Omit<ToMeasure, 'text'> = {
      ...{ path: join(DEMO, 'bell-read-ilse.ogg'), output, as: 'speech', fromMs: 0, score: null, models: [] },
      ...{ gapsMs: null, areGapsRough: false, beatsMs: null, beatUnknown: null, sentBeats: [] },
    };
    const measuredWithout = (of: KnownText['of']) => {
      const wanted = JSON.stringify({ ...task, kind: 'measureTake', text: { of, text, language: 'pt' } });
      const worker = JSON.stringify(join(root, 'build/server/worker.mjs'));
      const done = without(
        '--input-type=module',
        '-e',
        `import work from ${worker}; await work(${wanted}); process.exit();`,
      );
      expect(done).toMatchObject({ status: 0, stderr: '' });
      return JSON.parse(readFileSync(output, 'utf8')) as Evidence;
    };
    const read = measuredWithout('passage');
    expect(read.words).toBeNull();
    expect(read.remarks).toEqual([
      'espeak-ng is not installed on this server, so the words of the passage are not looked for.',
    ]);
    // All else is as ever: pauses lie where the passage has them, and syllables are counted.
    expect(read.reading!.pauses.length).toBeGreaterThan(2);
    expect(read.speech!.syllables).toBeGreaterThan(40);
    // Of a model answer nobody expects words.
    expect(measuredWithout('model')).toMatchObject({ words: null, remarks: [] });
    // The command says so in a line.
    const words = join(t.config.dataDir, 'words.txt');
    writeFileSync(words, text);
    const told = ['--as', 'speech', '--text', words, '--language', 'pt'];
    expect(without(join(root, 'build/server/measure.mjs'), task.path, ...told)).toMatchObject({
      status: 2,
      stderr: 'espeak-ng is not installed: without a reference voice no words can be looked for.\n',
    });
  });

  it('of what repeats a prompt lies beside it, and tells no student of a model answer', async () => {
    const folder = t.config.dataDir;
    const voice = (name: string, as: string, text: string) => speak(join(folder, name), as, text);
    const says = 'Did the old boat leave the harbour this morning?';
    const prompt = voice('prompt.wav', 'en-us+f2', says);
    const models: ToMeasure['models'] = [
      { of: 'model', recordingId: 'other', path: voice('model.wav', 'en', 'Yes, it was gone before seven.') },
      { of: 'prompt', recordingId: 'prompt', path: prompt },
    ];
    const beside = async (path: string, laidOn = models) => {
      const output = join(folder, 'beside.json');
      await measureTake({
        ...{ path, output, areGapsRough: false, as: 'speech', fromMs: 0, score: null, text: null },
        ...{ gapsMs: null, beatsMs: null, beatUnknown: null, sentBeats: [], models: laidOn },
      });
      return (JSON.parse(readFileSync(output, 'utf8')) as Evidence).beside;
    };
    const again = await beside(voice('again.wav', 'en+m3', says));
    expect(again).toMatchObject({ of: 'prompt', recordingId: 'prompt' });
    expect(again!.path.length).toBe(again!.melodies.length);
    expect(await beside(voice('else.wav', 'en+m3', 'No, I have not seen it, I am sorry to say.'))).toBeNull();

    // An open answer to a question, as near to it as any of the demo's comes.
    const question = join(DEMO, 'prompt-market-order.ogg');
    const open = await beside(join(DEMO, 'market-order-emrys.ogg'), [
      { of: 'prompt', recordingId: 'question', path: question },
    ]);
    expect(open).toBeNull();

    const { takeId, student } = await sat({}, readFileSync(SPOKEN), 'atOnce');
    const stored = join(folder, 'sounds/measures', `${takeId}.json`);
    const plain = await evidenceOf(takeId);
    const words: Evidence['words'] = { of: 'model', fits: true, words: [null], extra: [] };
    for (const evidence of [
      { ...plain, beside: { ...again!, of: 'model' as const } },
      { ...plain, words },
    ]) {
      writeFileSync(stored, JSON.stringify(evidence));
      expect(await evidenceOf(takeId)).toMatchObject(evidence);
      expect(await evidenceOf(takeId, student)).toMatchObject({ beside: null, words: null, reading: null });
    }
    writeFileSync(stored, JSON.stringify({ ...plain, words: { ...words, of: 'passage' } }));
    expect((await evidenceOf(takeId, student)).words).toMatchObject({ fits: true });
  });

  const measuredAs = async (wanted: Partial<ToMeasure> & { path: string }): Promise<Evidence> => {
    const output = join(t.config.dataDir, 'music.json');
    await measureTake({
      ...{ output, areGapsRough: false, as: 'music', fromMs: 0, score: null, text: null, models: [] },
      ...{ gapsMs: null, beatsMs: null, beatUnknown: null, sentBeats: [] },
      ...wanted,
    });
    return JSON.parse(readFileSync(output, 'utf8')) as Evidence;
  };

  it('of a tune that was played after a model is its notes; a student is not told those of a model answer', async () => {
    const model = join(DEMO, 'scales-tune-mireille.ogg');
    const after = { path: join(DEMO, 'scales-tune-nuno.ogg'), recordingId: 'model' };
    const evidence = await measuredAs({
      path: after.path,
      models: [{ of: 'model', recordingId: after.recordingId, path: model }],
    });
    expect(evidence.beside).toMatchObject({ of: 'model', pauses: null });
    expect(evidence.target).toMatchObject({ of: 'model', tempoCurve: [], byDegree: [] });
    const played = evidence.target!.notes.filter(n => n.status === 'played').length;
    expect(played / evidence.target!.notes.length).toBeGreaterThan(0.85);
    expect(evidence.line).toHaveLength(evidence.target!.notes.length);
    // How fast it went is its own, whatever a second of the model counts for.
    expect(evidence.tempo!.bpm).toBeGreaterThan(60);
    const another = await measuredAs({
      path: after.path,
      models: [{ of: 'model', recordingId: 'x', path: join(DEMO, 'scales-scale-mireille.ogg') }],
    });
    expect([another.beside, another.target]).toEqual([null, null]);

    const { takeId, student } = await sat({}, readFileSync(SPOKEN), 'atOnce');
    await evidenceOf(takeId);
    const stored = join(t.config.dataDir, 'sounds/measures', `${takeId}.json`);
    writeFileSync(stored, JSON.stringify(evidence));
    expect(await evidenceOf(takeId)).toMatchObject({ target: { of: 'model' } });
    expect(await evidenceOf(takeId, student)).toMatchObject({ target: null, line: null, beside: null });
  });

  it('of two hands is bar by bar, of hands that clap stroke by stroke, counted from where the answer begins', async () => {
    const items = assessments.flatMap(a => a.items);
    const scored = (xml: string): ToMeasure['score'] => {
      const path = join(t.config.dataDir, 'own.musicxml');
      writeFileSync(path, xml);
      return { path, part: '', semitones: 0 };
    };
    const { hands } = items.find(i => i.hands)!;
    const waltz = scored(handsOf('Waltz', 'Keyboard', hands!));
    const path = join(DEMO, 'hands-waltz-quentin.ogg');
    const whole = await measuredAs({ path, score: waltz });
    const { in: stoppedIn, backTo } = hands!.stops.quentin!;
    const { events, restarts } = whole.target!.followed!;
    expect(restarts.map(r => [events[r.fromIndex]!.measure, events[r.backToIndex]!.measure])).toEqual([
      [String(stoppedIn), String(backTo)],
    ]);
    expect(whole).toMatchObject({ notes: null, line: null, remarks: [], pitch: { cents: [], range: null } });
    expect(figuresOf(whole)).toMatchObject({ restarts: 1, playedPercent: 100 });
    expect(figuresOf(whole)).not.toHaveProperty('extraNotes');
    const later = await measuredAs({ path, score: waltz, fromMs: 400 });
    expect(later.target!.followed!.restarts[0]!.atSec).toBeCloseTo(restarts[0]!.atSec, 1);
    expect(later.target!.tempoCurve[0]!.atSec).toBeCloseTo(whole.target!.tempoCurve[0]!.atSec, 1);

    const { rhythm } = items.find(i => i.rhythm)!;
    const clapped = await measuredAs({
      path: join(DEMO, 'hands-clap-tamsin.ogg'),
      score: scored(rhythmOf('Drum', 'Hands', rhythm!.lengths)),
    });
    const missed = clapped.target!.notes.filter(n => n.status === 'missed').map(n => n.index + 1);
    expect(missed).toEqual([rhythm!.leftOut.tamsin]);
    expect(clapped).toMatchObject({ notes: null, pauses: [], target: { isRhythm: true, extra: 0 } });
    expect(clapped.line![6]).toMatchObject({ measure: '2', atQuarters: 1.5 });
  });

  it('brings the copy that plays with it; what hinders the measures does not hinder the copy, nor takes one of another stretch', async () => {
    const { pool, files, recordings, jobs } = t.ecoute;
    const playableAt = async (id: string) => {
      const [[found]] = (await pool.query('SELECT playable_at AS at FROM recordings WHERE id = ?', [
        id,
      ])) as never as [[{ at: Date | null }]];
      return found.at;
    };
    const asked = async (kind: string, id: string) => {
      const [found] = await pool.query('SELECT 1 FROM jobs WHERE kind = ? AND subject_id = ?', [kind, id]);
      return (found as unknown[]).length;
    };
    // Where others wait, one pass makes both.
    const alone = jest.spyOn(jobs, 'isAlone').mockResolvedValue(false);
    const { takeId, student } = await sat({ trimAllowed: true }, readFileSync(SPOKEN));
    await evidenceOf(takeId);
    alone.mockRestore();
    while (!(await playableAt(takeId))) await new Promise(resolve => setTimeout(resolve, 20));
    // Nobody was asked for the copy by itself.
    expect(await asked('makePlayable', takeId)).toBe(0);
    expect(await files.size(`playable/${takeId}.m4a`)).toBeGreaterThan(0);

    // Where nobody waits, the figures do not wait for the copy, and a copy that fails is asked for by itself.
    let fails: () => void = () => undefined;
    const copying = jest
      .spyOn(recordings.copies, 'makePlayable')
      .mockImplementationOnce(() => new Promise((_, reject) => (fails = () => reject(new Error('no copy')))));
    const first = await sat({}, tone(2));
    await evidenceOf(first.takeId);
    expect([copying.mock.calls, await playableAt(first.takeId)]).toEqual([[[first.takeId]], null]);
    fails();
    while (!(await playableAt(first.takeId))) await new Promise(resolve => setTimeout(resolve, 20));
    copying.mockRestore();

    // Whoever practises waits for the measures alone: the copy is asked for by itself.
    const added = jest.spyOn(jobs, 'add');
    const waitedFor = await sat({}, tone(2), 'atOnce');
    await evidenceOf(waitedFor.takeId);
    const of = added.mock.calls.filter(call => (call[2] as { id?: string }).id === waitedFor.takeId);
    expect(of.map(([, kind]) => kind)).toEqual(['inspectRecording', 'measureTake', 'makePlayable']);
    added.mockRestore();

    // A copy of the whole that comes after the cut is not taken for what is left.
    const whole = (await findRecording(pool, takeId))!;
    await jobs.stop();
    expect(
      (await student.ask('PUT', `/api/takes/${takeId}/trim`, { fromMs: 4_000, toMs: 14_000 })).status,
    ).toBe(200);
    expect(await playableAt(takeId)).toBeNull();
    const late = join(t.config.dataDir, 'late.m4a');
    writeFileSync(late, 'the whole');
    await recordings.copies.keep(whole, late);
    expect(await playableAt(takeId)).toBeNull();
    // Its measures cannot be written: the copy is asked for by itself, and once.
    expect(await asked('measureTake', takeId)).toBe(1);
    renameSync(files.localPath('measures'), files.localPath('measures-away'));
    jobs.start();
    while ((await asked('makePlayable', takeId)) === 0 && !(await playableAt(takeId)))
      await new Promise(resolve => setTimeout(resolve, 20));
    while (!(await playableAt(takeId))) await new Promise(resolve => setTimeout(resolve, 20));
    expect(await asked('measureTake', takeId)).toBe(1);
    renameSync(files.localPath('measures-away'), files.localPath('measures'));
    await hurry(pool);
    expect((await evidenceOf(takeId)).durationSec).toBeCloseTo(10, 1);
  });

  it('is asked for where it is missing, or was measured in an older way, and only once', async () => {
    const { takeId } = await sat({}, tone(1));
    await evidenceOf(takeId);
    const { pool } = t.ecoute;
    await t.ecoute.jobs.stop();
    const missing = async (revision: number) => (await takesNotMeasured(pool, revision)).missing.length;
    expect(await missing(EVIDENCE_REVISION)).toBe(0);
    await pool.query('DELETE FROM measures WHERE recording_id = ?', [takeId]);
    expect(await missing(EVIDENCE_REVISION)).toBe(1);
    const [[{ all }]] = (await pool.query('SELECT COUNT(*) AS `all` FROM measures')) as never as [
      [{ all: number }],
    ];
    expect(await missing(EVIDENCE_REVISION + 1)).toBe(Number(all) + 1);
    // Step by step each of them has its turn once, whatever the size of a step, also where many were recorded in the same moment.
    await pool.query("UPDATE recordings SET created_at = '2026-01-01' WHERE id <> ?", [takeId]);
    const seen: string[] = [];
    for (let at: Place | null = null, n = 0; n < 500; n++) {
      const { missing: some, next } = await takesNotMeasured(pool, EVIDENCE_REVISION + 1, at, 2);
      seen.push(...some.map(s => s.id));
      if (!next) break;
      at = next;
    }
    expect([seen.length, new Set(seen).size]).toEqual([Number(all) + 1, Number(all) + 1]);
    // By the sweep, which asks once.
    await t.ecoute.jobs.sweep();
    expect(await missing(EVIDENCE_REVISION)).toBe(0);
    expect(await teacher.ask('GET', `/api/takes/${takeId}/evidence`)).toMatchObject({
      status: 200,
      body: { state: 'measuring' },
    });
    t.ecoute.jobs.start();
    await evidenceOf(takeId);
  });
});
