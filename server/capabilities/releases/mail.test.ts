import type { FirstCode } from '@ecoute/contract/classes';
import type { MailboxMessage } from '@ecoute/contract/mailbox';
import type { ReleaseDetail, ReminderResult } from '@ecoute/contract/releases';
import { recordTake, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('mail and calendars that leave the house', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let students: Visitor[];
  let classId: string;

  beforeAll(async () => {
    t = await TestEcoute.open({ withMailbox: true });
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    students = [];
    for (let n = 0; n < 4; n++) students.push(await t.person('student', [classId]));
    for (const [n, s] of students.entries())
      if (n < 3)
        await t.ecoute.pool.query('UPDATE people SET email = ? WHERE id = ?', [`s${n}@b.example`, s.id]);
  });
  afterAll(() => t.close());

  const inbox = async (to?: string) =>
    (await teacher.ask<MailboxMessage[]>('GET', '/api/mailbox')).body.filter(m => !to || m.to === to);
  const until = async (holds: () => Promise<boolean>) => {
    while (!(await holds())) await new Promise(resolve => setTimeout(resolve, 50));
  };

  it('remind those who have not handed in, by mail, and nobody twice within the hour', async () => {
    const release = await t.release(teacher, classId);
    const { body: sitting } = await students[0]!.ask<{ id: string }>(
      'POST',
      `/api/releases/${release.id}/sitting`,
    );
    await recordTake(students[0]!, sitting.id, release.itemId, tone(1));
    await students[0]!.ask('POST', `/api/sittings/${sitting.id}/hand-in`, { withGaps: false });
    await teacher.ask('PUT', `/api/releases/${release.id}/exceptions/${students[1]!.id}`, { excused: true });
    const remind = () => teacher.ask<ReminderResult>('POST', `/api/releases/${release.id}/reminders`);
    const first = (await remind()).body;
    expect([first.sent, first.already, first.without.length]).toEqual([1, 0, 1]);
    await until(async () => (await inbox('s2@b.example')).length > 0);
    const [mail] = await inbox('s2@b.example');
    expect(mail).toMatchObject({ subject: 'Test: still to do' });
    expect(mail!.text).toContain(`https://ecoute.example/sit/${release.id}`);
    expect((await inbox()).map(m => m.to)).toEqual(['s2@b.example']);
    expect((await remind()).body).toMatchObject({ sent: 0, already: 1 });
    const { body } = await teacher.ask<ReleaseDetail>('GET', `/api/releases/${release.id}`);
    expect(body.students.filter(s => s.remindedAt !== null).map(s => s.id)).toEqual([students[2]!.id]);
  });

  it('tell students that something opened only where a teacher wants that, once', async () => {
    const before = (await inbox()).length;
    const first = await t.release(teacher, classId);
    const give = (over: object) =>
      teacher.ask<ReleaseDetail>('POST', '/api/releases', {
        assessmentId: first.assessmentId,
        classId,
        dueAt: new Date(Date.now() + 3_600_000).toISOString(),
        lateAccepted: true,
        note: 'Week 1',
        ...over,
      });
    await give({ notify: true, hidden: true });
    const shown = (await give({ notify: true })).body;
    await until(async () => (await inbox()).length === before + 3);
    expect((await inbox('s0@b.example'))[0]!.subject).toBe('Test is open');
    // A change is no second opening.
    await teacher.ask('PUT', `/api/releases/${shown.id}`, {
      dueAt: new Date(Date.now() + 7_200_000).toISOString(),
      lateAccepted: true,
      note: 'Week 1, once more',
    });
    await t.ecoute.jobs.add(t.ecoute.pool, 'announceRelease', { id: shown.id });
    await until(async () => {
      const [rows] = await t.ecoute.pool.query("SELECT 1 FROM jobs WHERE kind <> 'forgetGuests'");
      return (rows as unknown[]).length === 0;
    });
    expect(await inbox()).toHaveLength(before + 3);
  });

  it('carry one-time codes to those who can be written to; the others are shown', async () => {
    const { body } = await teacher.ask<FirstCode[]>('POST', `/api/classes/${classId}/codes`, {
      personIds: [students[0]!.id, students[3]!.id],
      byMail: true,
    });
    const code = (id: string) => body.find(c => c.personId === id)!.code;
    expect(code(students[0]!.id)).toBeNull();
    expect(code(students[3]!.id)).toMatch(/-/);
    await until(async () => (await inbox('s0@b.example'))[0]!.subject.includes('first sign-in'));
    const sent = /code: ([0-9A-Z-]+)/.exec((await inbox('s0@b.example'))[0]!.text)![1]!;
    expect((await t.visitor().ask('POST', '/api/first-sign-in/code', { code: sent })).status).toBe(200);
  });

  it('give each person a calendar at an address of their own, which can be revoked', async () => {
    const release = await t.release(teacher, classId);
    const feed = async (who: Visitor, method = 'POST') =>
      (await who.ask<{ url: string | null }>(method, '/api/calendar-feed')).body.url;
    const url = (await feed(students[0]!))!;
    const read = async (address: string) =>
      t.visitor().ask<string>('GET', address.replace('https://ecoute.example', ''));
    const calendar = await read(url);
    expect(calendar.headers.get('content-type')).toContain('text/calendar');
    const lines = calendar.body.replace(/\r\n /g, '').split('\r\n');
    expect(lines).toContain('BEGIN:VCALENDAR');
    expect(lines).toContain(`UID:${release.id}@ecoute`);
    expect(lines).toContain('SUMMARY:Due: Test');
    expect(lines.filter(l => l.startsWith('URL')).join(' ')).toContain(`/sit/${release.id}`);
    const teachers = (await read((await feed(teacher))!)).body.replace(/\r\n /g, '');
    expect(teachers).toContain(`/release/${release.id}`);
    const next = (await feed(students[0]!))!;
    expect([(await read(url)).status, (await read(next)).status]).toEqual([404, 200]);
    await feed(students[0]!, 'DELETE');
    expect((await read(next)).status).toBe(404);
    expect(await feed(students[0]!, 'GET')).toBeNull();
  });

  it('remind nobody twice, also when two teachers do so at once', async () => {
    const release = await t.release(teacher, classId);
    const remind = () => teacher.ask<ReminderResult>('POST', `/api/releases/${release.id}/reminders`);
    const both = await Promise.all([remind(), remind()]);
    const sent = both.reduce((sum, { body }) => sum + body.sent, 0);
    const already = both.reduce((sum, { body }) => sum + body.already, 0);
    expect(sent).toBeGreaterThan(0);
    expect(already).toBe(sent);
  });
});

describe('without mail', () => {
  it('say that none is set up, and what to do', async () => {
    const t = await TestEcoute.open();
    const classId = await t.class();
    const teacher = await t.person('teacher', [classId]);
    const release = await t.release(teacher, classId);
    expect(await teacher.ask('POST', `/api/releases/${release.id}/reminders`)).toMatchObject({
      status: 409,
      body: { message: expect.stringContaining('ECOUTE_SMTP_URL') },
    });
    await t.close();
  });
});
