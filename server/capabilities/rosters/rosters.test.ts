import { oneRosterOf } from '@ecoute/core/formats/oneRoster';
import type { ClassDetail, ClassSummary, ImportView } from '@ecoute/contract/classes';
import { TestEcoute, type Visitor } from '../../testing/ecoute';
import { zip } from '../../testing/files';

describe('lists of people', () => {
  // Twenty thousand people, on a machine that does other things as well.
  jest.setTimeout(120_000);
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeEach(async () => {
    t ??= await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  const bring = (bytes: Uint8Array | string, to: string | null = classId, name = 'list.csv') =>
    teacher.ask<ImportView>(
      'POST',
      to ? `/api/classes/${to}/imports` : '/api/imports',
      typeof bytes === 'string' ? Buffer.from(bytes) : bytes,
      { 'Content-Type': 'application/octet-stream', 'X-File-Name': encodeURIComponent(name) },
    );
  const detail = async (id = classId) => (await teacher.ask<ClassDetail>('GET', `/api/classes/${id}`)).body;
  const confirm = async (id: string): Promise<ImportView> => {
    expect((await teacher.ask('POST', `/api/imports/${id}/confirm`)).status).toBe(200);
    for (;;) {
      const { body } = await teacher.ask<ImportView>('GET', `/api/imports/${id}`);
      if (body.state !== 'waiting' && body.state !== 'running') return body;
      await new Promise(resolve => setTimeout(resolve, 30));
    }
  };

  it('show row by row what they would do, and do nothing before they are confirmed', async () => {
    await teacher.ask('POST', `/api/classes/${classId}/students`, { displayName: 'João Pereira' });
    const known = await t.person('student');
    const foreign = await t.person('student', [await t.class()]);
    // Whose account the teacher made need not be asked.
    await t.ecoute.pool.query('UPDATE people SET made_by = ? WHERE id = ?', [teacher.id, known.id]);
    const { body } = await bring(
      [
        'Nome;Utilizador;Grupo;Tempo extra',
        'Pereira, João;;;',
        `Somebody Known;student-${known.id};Tenors;`,
        'ليلى الحداد;;Tenors;25 %',
        ';;;',
        'No Mail Here;with space;;',
        `Somebody Foreign;student-${foreign.id};Tenors;2`,
      ].join('\r\n'),
    );
    expect(body.choices.columns.map(c => c.field)).toEqual(['name', 'signInName', 'group', 'extraTime']);
    expect(body.rows.map(r => [r.row, r.fate])).toEqual([
      [2, 'sameName'],
      [3, 'joins'],
      [4, 'new'],
      [5, 'leftOut'],
      [6, 'asked'],
    ]);
    expect(body.counts).toMatchObject({ new: 1, joins: 1, asked: 1, sameName: 1, leftOut: 1 });
    expect((await detail()).members.filter(m => m.role === 'student')).toHaveLength(1);

    const done = await confirm(body.id);
    expect(done.state).toBe('done');
    const { members, groups } = await detail();
    const layla = members.find(m => m.displayName === 'ليلى الحداد')!;
    expect(layla).toMatchObject({
      hasSignIn: false,
      arrangement: { extraTime: 1.25 },
      groupIds: [groups[0]!.id],
    });
    expect(members.filter(m => m.groupIds.length > 0)).toHaveLength(2);
    expect(members.some(m => m.id === foreign.id)).toBe(false);
    await foreign.acceptAll();
    expect((await detail()).members.find(m => m.id === foreign.id)).toMatchObject({
      role: 'student',
      arrangement: { extraTime: 1 },
    });
    expect(members.filter(m => m.displayName === 'João Pereira')).toHaveLength(1);
    expect((await teacher.ask('POST', `/api/imports/${body.id}/confirm`)).status).toBe(409);
  });

  it('read every encoding and separator that office programs write', async () => {
    const text = 'Name\tMail\nÅse Ødegård\tase@b.example\n';
    const utf16 = Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')]);
    const files: [string, Buffer][] = [
      ['UTF-8', Buffer.from(text)],
      ['UTF-8 with its mark', Buffer.from(`\ufeff${text}`)],
      ['UTF-16', utf16],
      ['Windows-1252', Buffer.from(text.replaceAll('\t', ';'), 'latin1')],
      ['quoted', Buffer.from('"Name","Mail"\r\n"Åse Ødegård","ase@b.example"\r\n')],
    ];
    for (const [what, bytes] of files) {
      const { body } = await bring(bytes);
      expect([what, body.rows.map(r => r.name), body.counts.new]).toEqual([what, ['Åse Ødegård'], 1]);
    }
  });

  it('are read otherwise where a teacher says so', async () => {
    const { body } = await bring('Ana Reis,Blue\nRui Lobo,Red\n');
    expect(body.choices).toMatchObject({ hasHeader: false, columns: [{ field: 'name' }, { field: null }] });
    const choices = { ...body.choices, columns: [{ field: 'name' }, { field: 'group' }] };
    expect((await teacher.ask('PUT', `/api/imports/${body.id}`, choices)).status).toBe(200);
    const strange = { ...choices, columns: [{ field: 'password' }] };
    expect((await teacher.ask('PUT', `/api/imports/${body.id}`, strange)).status).toBe(422);
    await confirm(body.id);
    expect((await detail()).groups.map(g => g.name)).toEqual(['Blue', 'Red']);
  });

  it('say what is wrong with a file, and the next step', async () => {
    const said = async (bytes: Uint8Array | string) => {
      const { status, body } = await bring(bytes);
      expect(status).toBe(422);
      return (body as unknown as { message: string }).message;
    };
    expect(await said(await zip({ 'xl/worksheets/sheet1.xml': '<x/>' }))).toContain('Save it as CSV');
    expect(await said(await zip({ 'notes.txt': 'x', 'b.txt': 'y' }))).toContain('no users.csv');
    expect(await said(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 0, 1, 2, 3]))).toContain('no list');
    expect(await said('   \n \n')).toContain('empty');
    expect(await said(`name\n${'A B\n'.repeat(25_100)}`)).toContain('Split it in two');
    const users = `sourcedId,givenName,familyName\n${'x,Given,Family\n'.repeat(5_000_000)}`;
    const bomb = await zip({ 'users.csv': users, 'classes.csv': 'x', 'enrollments.csv': 'x' });
    expect(bomb.length).toBeLessThan(1_000_000);
    expect(await said(bomb)).toContain('far more than a list');
  });

  it('know somebody by a mail address that is their sign-in name, and tell accents apart', async () => {
    const tail = `${classId}@b.example`;
    const known = `bram-${tail}`;
    const first = (await bring(`Name,Login\nBram Ottevaere,${known}`)).body;
    await confirm(first.id);
    const { body } = await bring(
      [
        'Name,Login,Mail',
        `Bram Ottevaere,,${known.toUpperCase()}`,
        `Brām Ottevaere,brām-${tail},`,
        // Whose mail address is somebody else's sign-in name gets a sign-in name of their own.
        `Ana Reis,,ana-${tail}`,
        `Ana Reis the younger,ana-${tail},`,
      ].join('\n'),
    );
    expect(body.rows.map(r => r.fate)).toEqual(['already', 'new', 'new', 'new']);
    expect((await confirm(body.id)).state).toBe('done');
    const { members } = await detail();
    expect(members.filter(m => m.role === 'student').map(m => m.displayName)).toEqual(
      expect.arrayContaining(['Bram Ottevaere', 'Brām Ottevaere', 'Ana Reis', 'Ana Reis the younger']),
    );
  });

  it('bring whole classes in from OneRoster, and again without doubling anybody', async () => {
    const person = (n: number) => ({
      id: `src-${classId}-${n}`,
      givenName: `Given${n}`,
      familyName: 'Family',
      signInName: `u${n}-${classId}`,
      email: null,
      role: n === 0 ? ('teacher' as const) : ('student' as const),
    });
    const classes = ['Spanish 1', 'Choir'].map((name, i) => ({
      id: `cls-${classId}-${i}`,
      name,
      people: [0, 1, 2].map(person),
    }));
    const files = oneRosterOf(classes, { version: '1.2', school: 'B', today: '2026-11-25' });
    const packed = await zip(files);
    const { body } = await bring(packed, null, 'classes.zip');
    expect(body).toMatchObject({ kind: 'oneRoster', counts: { new: 6, newClasses: 2 } });
    const done = await confirm(body.id);
    expect(done.classes.map(c => c.name).sort()).toEqual(['Choir', 'Spanish 1']);
    const own = (await teacher.ask<ClassSummary[]>('GET', '/api/classes')).body;
    const choir = own.find(c => c.name === 'Choir')!;
    expect(choir).toMatchObject({ students: 2, teachers: ['Given0 Family'] });
    expect((await detail(choir.id)).members.find(m => m.id === teacher.id)!.role).toBe('coordinator');

    const again = (await bring(packed, null)).body;
    expect(again.counts).toMatchObject({ new: 0, already: 6, newClasses: 0 });
    await confirm(again.id);
    expect((await teacher.ask<ClassSummary[]>('GET', '/api/classes')).body).toHaveLength(own.length);
    // Somebody else's file with the same ids makes them no teacher of these classes.
    const stranger = await t.person('teacher', [await t.class()]);
    const tried = await stranger.ask<ImportView>('POST', '/api/imports', packed, {
      'Content-Type': 'application/octet-stream',
    });
    expect(tried.body.counts).toMatchObject({ leftOut: 6, new: 0, joins: 0, newClasses: 0 });
    await stranger.ask('POST', `/api/imports/${tried.body.id}/confirm`);
    expect((await stranger.ask('GET', `/api/classes/${choir.id}`)).status).toBe(404);
    // And out again.
    const out = await teacher.ask<string>('GET', '/api/one-roster?version=1.1');
    expect([out.status, out.headers.get('content-type')]).toEqual([200, 'application/zip']);
    const list = await teacher.ask<string>('GET', `/api/classes/${choir.id}/list`);
    expect(list.body).toContain('Given1 Family,u1-');
  });

  it('of twenty thousand rows come in with progress, or not at all when they are let go of', async () => {
    const rows = Array.from({ length: 20_000 }, (_, n) => `Given${n} Family${n},p${n}-${classId}@b.example`);
    const text = `Name,Mail\n${rows.join('\n')}`;
    const { body } = await bring(text);
    expect(body.counts.new).toBe(20_000);
    expect(body.rows.length).toBeLessThan(1_500);
    const students = async () => (await detail()).members.length - 1;

    await teacher.ask('POST', `/api/imports/${body.id}/confirm`);
    let seen = 0;
    for (;;) {
      const { body: now } = await teacher.ask<ImportView>('GET', `/api/imports/${body.id}`);
      seen = Math.max(seen, now.done);
      if (now.state === 'running' && now.done > 0) break;
    }
    const cancelled = await teacher.ask<ImportView>('POST', `/api/imports/${body.id}/cancel`);
    expect([cancelled.body.state, seen < 20_000]).toEqual(['cancelled', true]);
    expect(await students()).toBe(0);

    const second = (await bring(text)).body;
    expect(second.counts).toMatchObject({ new: 20_000, joins: 0 });
    expect((await confirm(second.id)).state).toBe('done');
    expect(await students()).toBe(20_000);
  });
});
