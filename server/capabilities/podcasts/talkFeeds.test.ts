import { XMLParser } from 'fast-xml-parser';
import { heldDiscussion, putIn, spokenDraft } from '../../testing/discussion';
import { TestEcoute, type Visitor } from '../../testing/ecoute';

describe('a discussion as a podcast', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let ana: Visitor;
  let classId: string;
  let releaseId: string;
  let first: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    ana = await t.person('student', [classId]);
    releaseId = (await heldDiscussion(teacher, classId)).id;
    first = await spokenDraft(ana, 'discussion', releaseId);
    await putIn(ana, 'discussion', releaseId, first, {}, { words: 'A & B <i>' });
    await spokenDraft(ana, 'discussion', releaseId);
  });
  afterAll(() => t.close());

  const made = async (who = teacher) => {
    const { body } = await who.ask<{ url: string }>('POST', `/api/releases/${releaseId}/feed`);
    return new URL(body.url).pathname;
  };
  const anybody = () => t.visitor();
  const items = (xml: string) => {
    const { item } = (
      new XMLParser({ ignoreAttributes: false }).parse(xml) as { rss: { channel: { item?: object } } }
    ).rss.channel;
    return [item ?? []].flat() as { title: string; enclosure: { '@_url': string } }[];
  };

  it('holds what stands in it, and plays without a sign-in', async () => {
    const path = await made();
    const feed = await anybody().ask<string>('GET', path);
    const [episode, ...rest] = items(feed.body);
    expect(rest).toEqual([]);
    expect(episode!.title).toContain('Name of student');
    expect(feed.body).toContain('A &amp; B &lt;i&gt;');
    expect(feed.body).not.toContain('<i>');
    const sound = await anybody().ask('GET', new URL(episode!.enclosure['@_url']).pathname);
    expect([sound.status, sound.headers.get('content-type')]).toEqual([200, expect.stringMatching(/^audio/)]);
  });

  it('ends with the address, with what is hidden, and with the right of whoever made it', async () => {
    const before = await made();
    const path = await made();
    const sound = path.replace('talk.rss', `said/${first}`);
    const states = async (...paths: string[]) =>
      Promise.all(paths.map(async p => (await anybody().ask('GET', p)).status));
    expect(await states(before, path, sound)).toEqual([404, 200, 200]);
    const hidden = `/api/releases/${releaseId}/lead/contributions/${first}/hidden`;
    await teacher.ask('PUT', hidden, { reason: 'x' });
    expect(await states(path, sound)).toEqual([200, 404]);
    await teacher.ask('DELETE', hidden);
    expect(await states(sound)).toEqual([200]);
    // A colleague's own address ends when they leave the class; nobody else has one at all.
    const colleague = await t.person('teacher', [classId]);
    const theirs = await made(colleague);
    expect(await states(theirs)).toEqual([200]);
    await teacher.ask('DELETE', `/api/classes/${classId}/members/${colleague.id}`);
    expect(await states(theirs, path)).toEqual([404, 200]);
    expect((await ana.ask('POST', `/api/releases/${releaseId}/feed`)).status).toBe(404);
    await teacher.ask('DELETE', `/api/releases/${releaseId}/feed`);
    expect(await states(path, sound)).toEqual([404, 404]);
    const ordinary = await t.release(teacher, classId);
    expect((await teacher.ask('POST', `/api/releases/${ordinary.id}/feed`)).status).toBe(404);
  });
});
