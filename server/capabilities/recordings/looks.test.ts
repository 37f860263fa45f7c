import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import type { Task, Worker } from '../../worker';
import { inspect, inspectMany, type Inspection, type ToInspect } from './inspect';
import { Looks } from './looks';
import { holesIn, measure } from './sound';

const DEMO = join(__dirname, '../../../demo/audio');
const task = (path: string, change: Partial<ToInspect> = {}): ToInspect => ({
  path,
  wanted: 'sound',
  beside: null,
  mostMs: 60_000,
  ...change,
});

describe('looking at many', () => {
  const turn = () => new Promise(resolve => setImmediate(resolve));

  /** A worker that waits until it is told, and keeps what it was asked. */
  function held() {
    const asked: { paths: string[]; answer: () => void; fail: (error: Error) => void }[] = [];
    const worker = ((one: Task) =>
      new Promise<never>((resolve, reject) => {
        const tasks = one.kind === 'inspectMany' ? one.tasks : [one as ToInspect];
        const found = tasks.map(t => ({ sha256: t.path }) as Inspection);
        asked.push({
          paths: tasks.map(t => t.path),
          answer: () => resolve((one.kind === 'inspectMany' ? found : found[0]) as never),
          fail: reject,
        });
      })) as Worker;
    return { asked, looks: new Looks(worker, 2) };
  }

  it('goes on by the handful while others wait, and each gets its own', async () => {
    const { asked, looks } = held();
    const all = Array.from({ length: 30 }, (_, n) => looks.look(task(`f${n}`), true));
    expect(asked.map(a => a.paths)).toEqual([['f0'], ['f1']]);
    asked[0]!.answer();
    await turn();
    expect(asked[2]!.paths).toEqual(Array.from({ length: 8 }, (_, n) => `f${n + 2}`));
    for (let n = 1; n < asked.length; n++) {
      asked[n]!.answer();
      await turn();
    }
    expect((await Promise.all(all)).map(found => found.sha256)).toEqual(all.map((_, n) => `f${n}`));
    expect(asked.map(a => a.paths.length)).toEqual([1, 1, 8, 8, 8, 4]);
  });

  it('takes nobody along with a file that may be at fault, nor it with others', async () => {
    const { asked, looks } = held();
    const first = [looks.look(task('a'), true), looks.look(task('b'), true)];
    const rest = ['c', 'doubtful', 'd', 'e'].map(name => looks.look(task(name), name !== 'doubtful'));
    for (let n = 0; n < asked.length; n++) {
      asked[n]!.answer();
      await turn();
    }
    await Promise.all([...first, ...rest]);
    expect(asked.filter(a => a.paths.includes('doubtful'))).toHaveLength(1);
    expect(asked.find(a => a.paths.includes('doubtful'))!.paths).toEqual(['doubtful']);
  });

  it('tries each by itself where several failed together: only whose fault it is fails', async () => {
    const { asked, looks } = held();
    const first = [looks.look(task('a'), true), looks.look(task('b'), true)];
    const rest = ['c', 'bad', 'd', 'e'].map(name =>
      looks.look(task(name), true).then(
        found => found.sha256,
        (error: Error) => error.message,
      ),
    );
    for (let n = 0; n < asked.length; n++) {
      const one = asked[n]!;
      if (one.paths.includes('bad')) one.fail(new Error(one.paths.length > 1 ? 'together' : 'its own'));
      else one.answer();
      await turn();
      await turn();
    }
    await Promise.all(first);
    expect(await Promise.all(rest)).toEqual(['c', 'its own', 'd', 'e']);
  });
});

describe('what one program hears in several files', () => {
  let folder = '';
  const at = (name: string) => join(folder, name);
  const ffmpeg = (...args: string[]) => {
    const { status, stderr } = spawnSync('ffmpeg', ['-nostdin', '-v', 'error', '-y', ...args]);
    if (status !== 0) throw new Error(String(stderr));
  };
  const spoken = join(DEMO, 'morning-wake-amara.ogg');
  beforeAll(() => {
    folder = mkdtempSync(join(tmpdir(), 'ecoute-looks-'));
    for (const name of ['a.webm', 'b.m4a', 'c.mp3', 'd.wav', 'e.flac'])
      ffmpeg('-ss', '1', '-t', '7', '-i', spoken, at(name));
    const gap = "asetpts='PTS+if(gt(T,1.5),1/TB,0)'";
    ffmpeg('-f', 'lavfi', '-i', 'sine=440:d=3', '-af', gap, '-c:a', 'libopus', at('holed.webm'));
    ffmpeg('-f', 'lavfi', '-i', 'testsrc2=d=2', '-i', spoken, '-shortest', at('film.webm'));
    writeFileSync(at('text.wav'), 'This is no sound.');
    writeFileSync(at('empty.wav'), '');
    // The head of a sound, and rubbish after it.
    writeFileSync(
      at('torn.ogg'),
      Buffer.concat([readFileSync(spoken).subarray(0, 90), Buffer.alloc(900, 7)]),
    );
    writeFileSync(at('half.ogg'), readFileSync(spoken).subarray(0, 40_000));
  });
  afterAll(() => rmSync(folder, { recursive: true }));

  it('is what a closer look at each of them finds, holes included', async () => {
    const names = ['a.webm', 'b.m4a', 'c.mp3', 'd.wav', 'e.flac', 'holed.webm', 'half.ogg'];
    const found = await inspectMany(names.map(name => task(at(name))));
    for (const [i, name] of names.entries()) {
      const closer = (await measure(at(name), 60_000))!;
      const { medium, problem, measured, details } = found[i]!;
      expect([name, medium, problem]).toEqual([name, 'sound', null]);
      expect(measured!.durationMs).toBe(closer.durationMs);
      expect(measured!.peaks).toEqual(closer.peaks);
      expect(measured!.gateMs).toBe(closer.gateMs);
      const holes = await holesIn(at(name));
      expect(details?.holes ?? []).toHaveLength(holes.length);
      // An encoder's priming, some milliseconds, is counted by the one and not by the other.
      for (const [n, hole] of holes.entries())
        expect(Math.abs(details!.holes![n]!.fromMs - hole.fromMs)).toBeLessThan(10);
    }
    expect(found[5]!.details!.holes).toHaveLength(1);
  });

  it('is spoilt by none of them: not by what is no sound, is torn, empty, a film, or longer than it may be', async () => {
    const tasks = [
      task(at('a.webm')),
      task(at('text.wav')),
      task(at('torn.ogg')),
      task(at('empty.wav')),
      task(at('film.webm'), { wanted: 'voice' }),
      task(at('film.webm')),
      task(at('b.m4a'), { mostMs: 3_000 }),
      task(at('nowhere.webm')),
    ];
    await expect(inspectMany(tasks)).rejects.toThrow('ENOENT');
    const together = await inspectMany(tasks.slice(0, -1));
    const alone = await Promise.all(tasks.slice(0, -1).map(t => inspect(t)));
    expect(together).toEqual(alone);
    expect(together.map(({ medium, problem }) => problem ?? medium)).toEqual([
      'sound',
      'notAudio',
      'damaged',
      'empty',
      'video',
      'sound',
      'sound',
    ]);
    // Longer than it may be: no more is decoded, and its length is the one that it says.
    expect(together[6]!.measured!.durationMs).toBeGreaterThan(6_900);
  });
});
