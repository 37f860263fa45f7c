import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { ANALYSIS_HZ } from '@ecoute/core/audio/halves';
import { Measurer } from '@ecoute/core/audio/measure';
import { handsOf, rhythmOf } from '../../../demo/score';
import { assessments } from '../../../demo/world';
import { measureAndCopy, measureFile, NotDecoded, samplesOf } from './measureFile';
import { jsonOf, tableOf } from './table';

const DEMO = join(__dirname, '../../../demo/audio');
const spoken = join(DEMO, 'morning-wake-amara.ogg');
let folder = '';
const at = (name: string) => join(folder, name);

function ffmpeg(...args: string[]): string {
  const { status, stderr } = spawnSync('ffmpeg', ['-nostdin', '-hide_banner', '-y', ...args], {
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(stderr);
  return stderr;
}
const made = (source: string, name: string, ...args: string[]) => {
  ffmpeg('-v', 'error', '-f', 'lavfi', '-i', source, ...args, at(name));
  return at(name);
};

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'ecoute-measures-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('a measured file', () => {
  it.each([
    ['as it is', []],
    ['at 8 kHz, as by telephone', ['-ar', '8000']],
    ['at 96 kHz', ['-ar', '96000']],
    ['with one dead channel', ['-af', 'pan=stereo|c0=c0|c1=0*c0']],
    ['much too loud', ['-af', 'volume=24dB', '-c:a', 'pcm_s16le']],
  ])('has the level that ffmpeg gives it: %s', async (name, args) => {
    const file = at(`${name.replace(/\W/g, '')}.wav`);
    ffmpeg('-v', 'error', '-i', spoken, ...args, file);
    const { level, speech } = await measureFile(file, 'speech');
    const stats = ffmpeg('-i', file, '-af', 'astats=measure_perchannel=none', '-f', 'null', '-');
    const loudness = ffmpeg('-nostats', '-i', file, '-af', 'ebur128', '-f', 'null', '-');
    const figure = (text: string, pattern: RegExp) => Number(pattern.exec(text)![1]);
    expect(Math.abs(level.peakDbfs! - figure(stats, /Peak level dB: (\S+)/))).toBeLessThan(0.2);
    expect(Math.abs(level.rmsDbfs! - figure(stats, /RMS level dB: (\S+)/))).toBeLessThan(0.2);
    const whole = loudness.slice(loudness.lastIndexOf('Summary'));
    expect(Math.abs(level.loudnessLufs! - figure(whole, /I:\s+(\S+) LUFS/))).toBeLessThan(0.2);
    expect(level.clippedSamples > 0).toBe(name === 'much too loud');
    // However it was recorded, it is the same speech: its texts have 89 syllables.
    expect(Math.abs(speech!.syllables - 89)).toBeLessThanOrEqual(5);
  });

  it('says the same however the sound was cut into pieces on its way here', async () => {
    const samples = (await samplesOf(join(DEMO, 'hands-waltz-quentin.ogg'), 60))!;
    const followed = (piece: number) => {
      const measurer = new Measurer(ANALYSIS_HZ, 1);
      for (let from = 0; from < samples.length; from += piece) {
        measurer.pushRaw([samples.subarray(from, from + piece)]);
        measurer.push(samples.subarray(from, from + piece));
      }
      return measurer.finish('speech');
    };
    const whole = followed(samples.length);
    for (const piece of [3_001, 16_384]) {
      const { level, ...others } = followed(piece);
      expect({ ...others, level: null }).toEqual({ ...whole, level: null });
      expect(level.loudnessLufs).toBeCloseTo(whole.level.loudnessLufs!, 6);
    }
  });

  it('counts its time from the first decoded sample, and a stretch of it from the beginning of that', async () => {
    const whole = await measureFile(spoken, 'speech');
    const part = await measureFile(spoken, 'speech', {}, { fromSec: 4, toSec: 14 });
    expect(part.durationSec).toBeCloseTo(10, 2);
    expect(part.pitch.hz).toHaveLength(1_000);
    const inside = whole.pauses.filter(p => p.startSec > 4.5 && p.endSec < 13.5);
    expect(inside.length).toBeGreaterThan(0);
    for (const pause of inside) {
      const same = part.pauses.find(p => Math.abs(p.startSec + 4 - pause.startSec) < 0.02);
      expect(Math.abs(same!.endSec + 4 - pause.endSec)).toBeLessThan(0.02);
    }
    // Where a file's own times leave a hole there is silence, and what comes after it keeps its time.
    const gap = "asetpts='PTS+if(gt(T,1.5),1/TB,0)'";
    ffmpeg(
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      'sine=440:d=3',
      '-af',
      gap,
      '-c:a',
      'libopus',
      at('holed.webm'),
    );
    expect((await measureFile(at('holed.webm'), 'speech')).durationSec).toBeCloseTo(4, 1);
    // An encoder's priming is no sound.
    for (const type of ['mp3', 'm4a', 'ogg']) {
      ffmpeg('-v', 'error', '-i', spoken, '-t', '12', at(`primed.${type}`));
      const coded = await measureFile(at(`primed.${type}`), 'speech');
      expect(Math.abs(coded.pauses[0]!.startSec - whole.pauses[0]!.startSec)).toBeLessThan(0.02);
    }
  });

  it.each(['speech', 'music'] as const)(
    'may hold anything, and gives no figure that is none: %s',
    async as => {
      const files = [
        made('anullsrc=r=44100:cl=mono:d=2', 'silence.wav'),
        made('sine=f=440:r=48000:d=2', 'tone.wav'),
        made('anoisesrc=a=1:r=44100:d=2', 'noise.wav'),
        made('sine=f=200:d=0.1', 'tenth.wav'),
        made('sine=f=200:d=0.002', 'click.wav'),
      ];
      ffmpeg('-v', 'error', '-f', 'lavfi', '-i', 'testsrc2=d=3', '-i', spoken, '-shortest', at('film.mp4'));
      ffmpeg('-v', 'error', '-i', spoken, at('whole.mp3'));
      writeFileSync(at('cut.mp3'), readFileSync(at('whole.mp3')).subarray(0, 40_000));
      for (const file of [...files, at('film.mp4'), at('cut.mp3')]) {
        const text = jsonOf(await measureFile(file, as));
        expect(text).not.toMatch(/NaN|Infinity/);
        const read = JSON.parse(text) as { durationSec: number; pitch: { hz: unknown[] } };
        expect(Math.abs(read.pitch.hz.length - read.durationSec * 100)).toBeLessThanOrEqual(1);
      }
      expect((await measureFile(at('silence.wav'), as)).remarks).toEqual([
        'Nothing sounds in this recording.',
      ]);
      expect((await measureFile(at('noise.wav'), as)).remarks).toEqual([
        'Nothing stands out of the noise in this recording.',
      ]);
    },
  );

  it('that holds no sound is refused in words', async () => {
    writeFileSync(at('text.wav'), 'This is a text.');
    writeFileSync(at('empty.wav'), '');
    made('testsrc2=d=1', 'mute.mp4');
    for (const name of ['text.wav', 'empty.wav', 'mute.mp4', 'nowhere.wav'])
      await expect(measureFile(at(name), 'speech')).rejects.toThrow(NotDecoded);
    await expect(measureFile(spoken, 'speech', {}, { fromSec: 9, toSec: 3 })).rejects.toThrow(RangeError);
  });

  it('is copied in the same pass, all of it, whatever stretch is measured; without room it is measured all the same', async () => {
    const span = { fromSec: 4, toSec: null };
    const alone = await measureFile(spoken, 'speech', {}, span);
    const output = at('copy.m4a.part');
    const beside = await measureAndCopy(spoken, 'speech', {}, span, { output, mostMs: 60_000 });
    expect(beside).toEqual({ measures: alone, isCopied: true });
    const copy = await measureFile(output, 'speech');
    expect(copy.durationSec).toBeCloseTo(alone.durationSec + 4, 1);
    const shorter = await measureAndCopy(spoken, 'speech', {}, span, { output, mostMs: 5_000 });
    expect(shorter.measures).toEqual(alone);
    expect((await measureFile(output, 'speech')).durationSec).toBeCloseTo(5, 1);
    const nowhere = { output: at('no/such/folder/copy.m4a'), mostMs: 60_000 };
    expect(await measureAndCopy(spoken, 'speech', {}, span, nowhere)).toEqual({
      measures: alone,
      isCopied: false,
    });
    const text = { output, mostMs: 60_000 };
    writeFileSync(at('words.wav'), 'This is a text.');
    await expect(measureAndCopy(at('words.wav'), 'speech', {}, span, text)).rejects.toThrow(NotDecoded);
  });

  it('is read as a table as well', async () => {
    const text = tableOf(await measureFile(join(DEMO, 'scales-tune-nuno.ogg'), 'music'));
    expect(text).toMatch(/^length\s+19\.13 s$/m);
    expect(text).toMatch(/^C5\s+0\.6\d s/m);
    expect(tableOf(await measureFile(spoken, 'speech'))).toMatch(/^pauses\s+7, together/m);
  });
});

describe('numbers of a row', () => {
  it('are printed without digits that mean nothing, and what is none as null', () => {
    const row = Float32Array.of(0, -0.00001, 0.5, 120, 12.345678, NaN, 1e-7, -3.1);
    expect(jsonOf({ row, alone: 12.345678 })).toBe(
      '{"row":[0,0,0.5,120,12.3457,null,0,-3.1],"alone":12.3457}',
    );
  });
});

describe('./ecoute measure', () => {
  const root = join(__dirname, '../../..');
  const run = (...args: string[]) =>
    spawnSync(process.execPath, [join(root, 'build/server/measure.mjs'), ...args], { encoding: 'utf8' });

  it('reads files that are named from where it is called', () => {
    writeFileSync(at('four.txt'), 'one two three four');
    const args = [
      'measure',
      'four.wav',
      '--as',
      'speech',
      '--text',
      'four.txt',
      '--language',
      'en',
      '--json',
    ];
    expect(spawnSync('espeak-ng', ['-w', at('four.wav'), 'one two three four']).status).toBe(0);
    const done = spawnSync(join(root, 'ecoute'), args, { cwd: folder, encoding: 'utf8' });
    expect(JSON.parse(done.stdout)).toMatchObject({ words: { fits: true } });
  });

  it('prints one JSON object, holds music against a score, and refuses in one line', () => {
    const score = at('tune.musicxml');
    const notes = ['C5', 'A4', 'B4', 'C5'].map(
      n =>
        `<note><pitch><step>${n[0]}</step>${n === 'B4' ? '<alter>-1</alter>' : ''}<octave>${n[1]}</octave></pitch><duration>1</duration></note>`,
    );
    writeFileSync(
      score,
      `<score-partwise version="4.0"><part-list><score-part id="P1"><part-name>T</part-name></score-part></part-list><part id="P1"><measure number="1"><attributes><divisions>1</divisions></attributes>${notes.join('')}</measure></part></score-partwise>`,
    );
    const tune = join(DEMO, 'scales-tune-nuno.ogg');
    const done = run(tune, '--as', 'music', '--target', score, '--to', '2.1', '--json');
    expect(done.status).toBe(0);
    const read = JSON.parse(done.stdout) as { target: { notes: { status: string }[]; extra: number } };
    expect(read.target.notes.map(n => n.status)).toEqual(['played', 'played', 'played', 'played']);
    const refused = run(join(root, 'README.md'), '--as', 'speech', '--json');
    expect(refused).toMatchObject({ status: 2, stdout: '' });
    expect(refused.stderr.trim().split('\n')).toHaveLength(1);
    expect(run(tune, '--as', 'noise').stderr).toMatch(/^Usage: /);
    expect(run(tune, '--as', 'music', '--target', join(root, 'README.md')).status).toBe(2);
    expect(run(tune, '--as', 'music', '--from', 'x').stderr).toBe(
      '--from is a number of seconds, such as 12.5.\n',
    );
  });

  it('prints when each moment of several notes began and where it was begun again; of a rhythm its strokes, without pitch', () => {
    const items = assessments.flatMap(a => a.items);
    const scored = (name: string, xml: string) => {
      writeFileSync(at(name), xml);
      return at(name);
    };
    const { hands } = items.find(i => i.hands)!;
    const waltz = scored('waltz.musicxml', handsOf('Waltz', 'Keyboard', hands!));
    const played = join(DEMO, 'hands-waltz-quentin.ogg');
    const done = run(played, '--as', 'music', '--target', waltz, '--json');
    expect(done.stderr).toBe('');
    const { target, notes } = JSON.parse(done.stdout) as {
      notes: null;
      target: {
        notes: unknown[];
        events: { index: number; scoreQuarters: number; startSec: number | null }[];
        restarts: { atSec: number; backToIndex: number }[];
      };
    };
    expect(notes).toBeNull();
    expect(target.notes).toEqual([]);
    expect(target).not.toHaveProperty('followed');
    expect(target.events.map(e => e.index)).toEqual(target.events.map((_, i) => i));
    expect(target.restarts).toHaveLength(1);
    const back = target.events[target.restarts[0]!.backToIndex]!;
    expect(back.scoreQuarters).toBe((hands!.stops.quentin!.backTo - 1) * hands!.beats);
    expect(target.restarts[0]!.atSec).toBeGreaterThan(back.startSec!);
    expect(run(played, '--as', 'music', '--target', waltz).stdout).toMatch(
      /^begun again at \d+\.\d\d s\s+from bar 7 back to bar 5$/m,
    );
    const drum = scored(
      'drum.musicxml',
      rhythmOf('Drum', 'Hands', items.find(i => i.rhythm)!.rhythm!.lengths),
    );
    const clapped = run(join(DEMO, 'hands-clap-umeko.ogg'), '--as', 'music', '--target', drum, '--json');
    const rhythm = JSON.parse(clapped.stdout) as { target: { notes: { status: string; centsOff: null }[] } };
    expect(rhythm.target.notes.every(n => n.status === 'played' && n.centsOff === null)).toBe(true);
  });
});
