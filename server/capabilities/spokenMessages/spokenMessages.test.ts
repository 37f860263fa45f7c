import { randomUUID } from 'node:crypto';
import type { RowDataPacket } from 'mysql2';
import type { MailboxMessage } from '@ecoute/contract/mailbox';
import type { MessageToMe, SpokenMessage, SpokenMessageDetail } from '@ecoute/contract/spokenMessages';
import type { FamilyView } from '@ecoute/contract/families';
import { send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('spoken messages', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let student: Visitor;
  let classmate: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open({ withMailbox: true });
  });
  afterAll(() => t.close());
  beforeEach(async () => {
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    classmate = await t.person('student', [classId]);
  });

  type Sent = SpokenMessageDetail & { code: string; fields: Record<string, string> };
  const tell = (over: object = {}, by = teacher) =>
    by.ask<Sent>('POST', `/api/classes/${classId}/spoken-messages`, {
      id: randomUUID(),
      voice: { recordingId: randomUUID(), mediaType: 'audio/wav' },
      title: 'The concert on Friday',
      words: 'Bring <b>your</b> recorder.',
      reaches: 'both',
      ...over,
    });
  /** Said, and its sound is here. */
  const said = async (over: object = {}, sound = tone(2)) => {
    const { body } = await tell(over);
    await send(teacher, body.voiceId, sound);
    await settled(teacher, body.voiceId);
    return body;
  };
  const family = async (of: Visitor, email: string, language = 'de') =>
    (
      await teacher.ask<FamilyView>('POST', `/api/classes/${classId}/members/${of.id}/families`, {
        email,
        name: '',
        language,
      })
    ).body.addresses.find(a => a.email === email)!.id;
  const detail = async (id: string) =>
    (await teacher.ask<SpokenMessageDetail>('GET', `/api/spoken-messages/${id}`)).body;
  const toMe = async (who: Visitor) => (await who.ask<MessageToMe[]>('GET', '/api/spoken-messages')).body;
  const mailTo = async (to: string, most = 1) => {
    for (let n = 0; ; n++) {
      const found = (await teacher.ask<MailboxMessage[]>('GET', '/api/mailbox')).body.filter(
        m => m.to === to,
      );
      if (found.length >= most || n > 100) return found;
      await new Promise(resolve => setTimeout(resolve, 50));
    }
  };
  const pathOf = (address: string) => new URL(address).pathname;
  const page = (path: string) => t.visitor().ask<string>('GET', path);

  it('go out once their sound is here: mailed with waveform and words, on the first page of students', async () => {
    const email = `oma-${randomUUID()}@home.example`;
    await family(student, email);
    const { body } = await tell();
    expect(body).toMatchObject({
      sentAt: null,
      students: { all: 2, heard: 0 },
      families: { all: 1, heard: 0 },
    });
    expect(await toMe(student)).toEqual([]);
    const to = body.recipients.find(r => r.email === email)!;
    expect((await page(pathOf(to.address))).status).toBe(404);
    expect((await student.ask('GET', `/api/recordings/${body.voiceId}/sound`)).status).toBe(404);
    await send(teacher, body.voiceId, tone(2));
    await settled(teacher, body.voiceId);
    const [mail] = await mailTo(email);
    expect(mail).toMatchObject({
      subject: expect.stringContaining('The concert on Friday') as string,
      hasLetter: true,
    });
    expect(mail!.text).toContain(to.address);
    expect(mail!.text).toContain('Bring <b>your</b> recorder.');
    expect(mail!.text).toContain('gesprochene Nachricht');
    const letter = (await teacher.ask<string>('GET', `/api/mailbox/${mail!.id}/letter`)).body;
    const png = Buffer.from(/data:image\/png;base64,([^"]+)/.exec(letter)![1]!, 'base64');
    // Width and height stand at the beginning of a PNG.
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([1040, 160]);
    expect(letter).toContain('Bring &lt;b&gt;your&lt;/b&gt; recorder.');
    const [mine] = await toMe(student);
    expect(mine).toMatchObject({ title: 'The concert on Friday', heardAt: null, voiceId: body.voiceId });
    expect((await student.ask('GET', `/api/recordings/${body.voiceId}/sound`)).status).toBe(200);
    const stranger = await t.person('student', [await t.class()]);
    expect((await stranger.ask('GET', `/api/recordings/${body.voiceId}/sound`)).status).toBe(404);
    expect((await stranger.ask('POST', `/api/spoken-messages/${body.id}/heard`)).status).toBe(404);
  });

  it('tell who has played them: a look at the page alone is no playing', async () => {
    const email = `papa-${randomUUID()}@home.example`;
    await family(student, email);
    const { id, recipients } = await said();
    const path = pathOf(recipients.find(r => r.email === email)!.address);
    const html = (await page(path)).body;
    expect(html).toContain('lang="de"');
    expect(html).toContain('Bring &lt;b&gt;your&lt;/b&gt;');
    expect((await detail(id)).families.heard).toBe(0);
    const sound = await t.visitor().ask('GET', `${path}/sound`, undefined, { Range: 'bytes=100-200' });
    expect(sound.status).toBe(206);
    expect((await detail(id)).families.heard).toBe(0);
    await t.visitor().ask('GET', `${path}/sound`, undefined, { Range: 'bytes=0-' });
    await student.ask('POST', `/api/spoken-messages/${id}/heard`);
    expect(await detail(id)).toMatchObject({
      students: { all: 2, heard: 1 },
      families: { all: 1, heard: 1 },
    });
    expect((await toMe(student))[0]!.heardAt).not.toBeNull();
    expect((await toMe(classmate))[0]!.heardAt).toBeNull();
  });

  it('taken back are heard nowhere from that moment on, and put back are', async () => {
    const { id, voiceId, recipients } = await said({ reaches: 'students' });
    const path = pathOf(recipients[0]!.address);
    const states = async () => [
      (await page(path)).status,
      (await t.visitor().ask('GET', `${path}/sound`)).status,
      (await toMe(student)).length,
      (await student.ask('GET', `/api/recordings/${voiceId}/sound`)).status,
      (await student.ask('POST', `/api/spoken-messages/${id}/heard`)).status,
    ];
    expect(await states()).toEqual([200, 200, 1, 200, 204]);
    await teacher.ask('DELETE', `/api/spoken-messages/${id}`);
    expect(await states()).toEqual([404, 404, 0, 404, 404]);
    await teacher.ask('POST', `/api/spoken-messages/${id}/restored`);
    expect(await states()).toEqual([200, 200, 1, 200, 204]);
  });

  it('taken back before their sound has come never go out, and go out when they are put back', async () => {
    const email = `tia-${randomUUID()}@home.example`;
    await family(student, email);
    const { body } = await tell();
    await teacher.ask('DELETE', `/api/spoken-messages/${body.id}`);
    await send(teacher, body.voiceId, tone(2));
    await settled(teacher, body.voiceId);
    await new Promise(resolve => setTimeout(resolve, 300));
    expect(await toMe(student)).toEqual([]);
    expect(await mailTo(email, 0)).toEqual([]);
    await teacher.ask('POST', `/api/spoken-messages/${body.id}/restored`);
    expect(await toMe(student)).toHaveLength(1);
    expect(await mailTo(email)).toHaveLength(1);
  });

  it('have addresses that are ended and replaced one by one', async () => {
    const email = `tio-${randomUUID()}@home.example`;
    await family(student, email);
    const { id, recipients } = await said();
    const [first] = await mailTo(email);
    const to = recipients.find(r => r.email === email)!;
    const one = `/api/spoken-messages/${id}/recipients/${to.id}`;
    await teacher.ask('DELETE', one);
    expect((await page(pathOf(to.address))).status).toBe(404);
    expect((await detail(id)).recipients.find(r => r.email === email)!.ended).toBe('address');
    await teacher.ask('POST', `${one}/restored`);
    expect((await page(pathOf(to.address))).status).toBe(200);
    const { body } = await teacher.ask<SpokenMessageDetail>('POST', `${one}/renewed`);
    const next = body.recipients.find(r => r.email === email)!;
    expect(next.address).not.toBe(to.address);
    expect((await page(pathOf(to.address))).status).toBe(404);
    expect((await page(pathOf(next.address))).status).toBe(200);
    const mails = await mailTo(email, 2);
    expect(mails).toHaveLength(2);
    expect(mails.find(m => m.id !== first!.id)!.text).toContain(next.address);
    // One of another message is not found by this one.
    const other = await said({ reaches: 'students' });
    const foreign = `/api/spoken-messages/${id}/recipients/${other.recipients[0]!.id}`;
    expect((await teacher.ask('DELETE', foreign)).status).toBe(404);
  });

  it('come no more to a family that does not want them, which keeps what it has', async () => {
    const email = `mae-${randomUUID()}@home.example`;
    const familyId = await family(student, email, 'fr');
    const first = await said();
    await mailTo(email);
    const path = pathOf(first.recipients.find(r => r.email === email)!.address);
    expect((await page(path)).body).toContain('Ne plus nous écrire');
    const stop = (what: string) =>
      fetch(`${t.base}${path}/${what}`, { method: 'POST', redirect: 'manual' }).then(r => r.status);
    expect(await stop('stop')).toBe(303);
    expect((await page(path)).body).toContain('Plus rien ne sera envoyé');
    const second = await said();
    expect(second.families.all).toBe(0);
    // No teacher begins it again, by whatever way.
    const at = `/api/classes/${classId}/members/${student.id}/families`;
    await teacher.ask('POST', `${at}/${familyId}/restored`);
    expect((await teacher.ask('POST', at, { email, name: '', language: 'fr' })).status).toBe(403);
    expect((await said()).families.all).toBe(0);
    const renewed = `/api/spoken-messages/${first.id}/recipients/${first.recipients.find(r => r.email === email)!.id}/renewed`;
    expect((await teacher.ask('POST', renewed)).status).toBe(403);
    expect(await stop('again')).toBe(303);
    expect((await said()).families.all).toBe(1);
    // Whom the student of age removes hears nothing more at all.
    await teacher.ask('PUT', `/api/classes/${classId}/members/${student.id}/adult`, { isAdult: true });
    await student.ask('DELETE', `/api/me/families/${familyId}`);
    expect((await page(path)).status).toBe(404);
    expect(await stop('again')).toBe(404);
  });

  it('go to a group, to single students, and to nobody who is not there', async () => {
    const groups = await teacher.ask<{ groups: { id: string }[] }>('POST', `/api/classes/${classId}/groups`, {
      name: 'Altos',
      memberIds: [classmate.id],
    });
    const groupId = groups.body.groups[0]!.id;
    const toGroup = await said({ groupId, reaches: 'students' });
    expect(toGroup).toMatchObject({ meantFor: 'Altos', students: { all: 1 } });
    expect(await toMe(student)).toEqual([]);
    const stranger = await t.person('student', [await t.class()]);
    const picked = await said({ studentIds: [student.id, stranger.id], reaches: 'students' });
    expect(picked.students.all).toBe(1);
    expect(await toMe(stranger)).toEqual([]);
    expect(
      (await tell({ studentIds: [stranger.id], reaches: 'students' })).body.fields.studentIds,
    ).toBeTruthy();
    expect((await tell({ reaches: 'families' })).body.fields.reaches).toContain('No address');
    expect((await tell({ title: ' ' })).body.fields.title).toBeTruthy();
    const list = (await teacher.ask<SpokenMessage[]>('GET', `/api/classes/${classId}/spoken-messages`)).body;
    expect(list.map(m => m.id)).toEqual([picked.id, toGroup.id]);
  });

  it('are mailed once, however often the job is run, and to those who were forgotten by the next sweep', async () => {
    const [first, second] = [`a-${randomUUID()}@home.example`, `b-${randomUUID()}@home.example`];
    await family(student, first);
    await family(classmate, second);
    const { id } = await said();
    await mailTo(first);
    await mailTo(second);
    // As after a crash between the two.
    await t.ecoute.pool.query(
      `UPDATE spoken_message_recipients r JOIN family_addresses f ON f.id = r.family_id
       SET r.mailed_at = NULL WHERE r.message_id = ? AND f.email = ?`,
      [id, second],
    );
    await t.ecoute.jobs.sweep();
    expect(await mailTo(second, 2)).toHaveLength(2);
    await t.ecoute.jobs.add(t.ecoute.pool, 'mailSpokenMessage', { id });
    const waiting = async () =>
      (
        await t.ecoute.pool.query<RowDataPacket[]>(
          "SELECT 1 FROM jobs WHERE kind IN ('mailSpokenMessage', 'sendMail')",
        )
      )[0];
    while ((await waiting()).length > 0) await new Promise(resolve => setTimeout(resolve, 50));
    expect(await mailTo(first)).toHaveLength(1);
    expect(await mailTo(second, 2)).toHaveLength(2);
  });

  it('sent twice are there once, and by nobody else under the same id', async () => {
    const wanted = { id: randomUUID(), voice: { recordingId: randomUUID(), mediaType: 'audio/wav' } };
    await Promise.all([tell(wanted), tell(wanted), tell(wanted)]);
    const list = (await teacher.ask<SpokenMessage[]>('GET', `/api/classes/${classId}/spoken-messages`)).body;
    expect(list).toHaveLength(1);
    const colleague = await t.person('teacher', [classId]);
    expect((await tell(wanted, colleague)).status).toBe(404);
    // A sound that was recorded for something else is not sent along.
    const foreign = { ...wanted, id: randomUUID() };
    expect((await tell(foreign, colleague)).status).toBe(404);
  });

  it('in which nothing is heard, or that are no sound, go to nobody', async () => {
    const silent = await said({ reaches: 'students' }, tone(2, 0));
    const broken = await said({ reaches: 'students' }, Buffer.from('no sound at all'));
    expect((await detail(silent.id)).sentAt).toBeNull();
    expect(await detail(broken.id)).toMatchObject({ sentAt: null, voiceState: 'refused' });
    expect(await toMe(student)).toEqual([]);
  });
});
