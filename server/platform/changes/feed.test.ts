import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Response } from 'express';
import type { Told } from '@ecoute/contract/changes';
import { addMember } from '../../capabilities/classes/store';
import { TestEcoute, type Visitor } from '../../testing/ecoute';
import { ChangeFeed } from './feed';
import { changesAfter, forgetChanges, insertChange, lastChange } from './store';

describe('the line of changes', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const until = async (holds: () => boolean) => {
    while (!holds()) await new Promise(resolve => setTimeout(resolve, 20));
  };
  const listening = async (who: Visitor) => {
    const told: Told[] = [];
    const stop = await who.listen(message => told.push(message as Told));
    return { told, stop };
  };
  const change = (over: object) =>
    insertChange(t.ecoute.pool, {
      kind: 'release',
      subjectId: randomUUID(),
      classId: null,
      personId: null,
      ...over,
    });

  it('tells what was written by whatever server, to those it concerns', async () => {
    const { told, stop } = await listening(teacher);
    const [mine, foreign, own] = [randomUUID(), randomUUID(), randomUUID()];
    await change({ subjectId: foreign, classId: await t.class() });
    await change({ subjectId: mine, classId });
    await change({ kind: 'feedback', subjectId: own, personId: teacher.id });
    await until(() => told.length === 2);
    expect(told).toEqual([
      { kind: 'release', id: mine },
      { kind: 'feedback', id: own },
    ]);
    stop();
  });

  it('keeps no line of a page that left while it was opened', async () => {
    const feed = new ChangeFeed(t.ecoute.pool);
    const leaving = () => {
      const res = new EventEmitter() as EventEmitter & Partial<Response>;
      res.write = jest.fn().mockReturnValue(true);
      res.flushHeaders = jest.fn();
      res.status = jest.fn().mockReturnValue({ set: jest.fn() });
      res.end = jest.fn();
      return res;
    };
    const [gone, stays] = [leaving(), leaving()];
    const opened = feed.open(teacher.id, gone as Response & EventEmitter);
    gone.emit('close');
    await opened;
    await feed.open(teacher.id, stays as Response & EventEmitter);
    await change({ classId });
    await until(() => jest.mocked(stays.write!).mock.calls.some(([s]) => String(s).startsWith('data:')));
    expect(gone.write).not.toHaveBeenCalled();
    stays.emit('close');
    feed.close();
  });

  it('tells many changes of one thing once', async () => {
    const { told, stop } = await listening(teacher);
    const id = randomUUID();
    await Promise.all(Array.from({ length: 30 }, () => change({ subjectId: id, classId })));
    await change({ kind: 'calendar', subjectId: null, classId });
    await until(() => told.some(m => m.kind === 'calendar'));
    expect(told.filter(m => m.id === id).length).toBeLessThan(5);
    stop();
  });

  it('loses nothing that was written first and committed last', async () => {
    const { told, stop } = await listening(teacher);
    const slow = await t.ecoute.pool.getConnection();
    const [first, second] = [randomUUID(), randomUUID()];
    await slow.beginTransaction();
    await insertChange(slow, { kind: 'release', subjectId: first, classId, personId: null });
    await change({ subjectId: second, classId });
    await until(() => told.some(m => m.id === second));
    expect(told.some(m => m.id === first)).toBe(false);
    await slow.commit();
    slow.release();
    await until(() => told.some(m => m.id === first));
    expect(told.filter(m => m.id === second)).toHaveLength(1);
    stop();
  });

  it('keeps a dozen lines of one person, the newest', async () => {
    const student = await t.person('student', [classId]);
    const lines: Awaited<ReturnType<typeof listening>>[] = [];
    for (let n = 0; n < 14; n++) lines.push(await listening(student));
    const id = randomUUID();
    await change({ subjectId: id, personId: student.id });
    await until(() => lines.filter(l => l.told.some(m => m.id === id)).length >= 12);
    await new Promise(resolve => setTimeout(resolve, 500));
    expect(lines.map(l => l.told.some(m => m.id === id))).toEqual([
      false,
      false,
      ...Array.from({ length: 12 }, () => true),
    ]);
    lines.forEach(l => l.stop());
  });

  it('learns that somebody teaches a class now', async () => {
    const other = await t.person('teacher');
    const { told, stop } = await listening(other);
    await change({ classId });
    await addMember(t.ecoute.pool, { classId, personId: other.id, role: 'coordinator' });
    await change({ kind: 'class', subjectId: classId, personId: other.id });
    await until(() => told.length > 0);
    const id = randomUUID();
    await change({ subjectId: id, classId });
    await until(() => told.some(m => m.id === id));
    expect(told.some(m => m.kind === 'class')).toBe(true);
    stop();
  });

  it('tells a page that has just come, and forgets what is old', async () => {
    await change({ classId });
    const { told, stop } = await listening(teacher);
    const id = randomUUID();
    await change({ subjectId: id, classId });
    await until(() => told.some(m => m.id === id));
    stop();
    const last = await lastChange(t.ecoute.pool);
    await forgetChanges(t.ecoute.pool, last);
    expect((await changesAfter(t.ecoute.pool, 0)).length).toBeGreaterThan(0);
    await t.ecoute.pool.query('UPDATE changes SET at = at - INTERVAL 11 MINUTE');
    await forgetChanges(t.ecoute.pool, last);
    expect(await changesAfter(t.ecoute.pool, 0)).toEqual([]);
  });
});
