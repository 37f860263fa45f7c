import { XMLParser } from 'fast-xml-parser';
import { handInOne, TestEcoute, type Visitor } from '../../testing/ecoute';
import { execute } from '../../platform/database';

interface Item {
  title: string;
  description: string;
  enclosure: { url: string; length: string; type: string };
}

describe('what came back, as a podcast', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let student: Visitor;
  let other: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    student = await t.person('student', [classId]);
    other = await t.person('student', [classId]);
  });
  afterAll(() => t.close());

  /** As a program asks that is signed in nowhere. */
  const open = (url: string, headers: Record<string, string> = {}) =>
    fetch(url.replace('https://ecoute.example', t.base), { headers });
  const address = async (who: Visitor, method: 'GET' | 'POST' | 'DELETE' = 'POST') =>
    (await who.ask<{ url: string | null }>(method, '/api/podcast')).body.url;
  const itemsAt = async (url: string): Promise<Item[]> => {
    const response = await open(url);
    expect(response.status).toBe(200);
    expect(response.headers.get('content-type')).toContain('application/rss+xml');
    const { rss } = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '',
      isArray: name => name === 'item',
    }).parse(await response.text()) as { rss: { version: string; channel: { item?: Item[] } } };
    expect(rss.version).toBe('2.0');
    return rss.channel.item ?? [];
  };
  async function returned(who: Visitor, title = 'Harbour <& bell>') {
    const release = await t.release(teacher, classId, {}, 3_600_000, { title });
    const sat = await handInOne(who, release);
    await teacher.ask('PUT', `/api/sittings/${sat.id}/marks/${release.itemId}`, {
      revision: 0,
      points: 3,
      comment: 'Not for other ears.',
      finished: true,
      reason: '',
    });
    const give = () => teacher.ask('POST', `/api/releases/${release.id}/feedback`, { sittingIds: [sat.id] });
    return { release, sat, give };
  }

  it('holds the recordings that have their feedback, with a sound that plays in pieces, and no comment or score', async () => {
    expect(await address(student, 'GET')).toBeNull();
    const url = (await address(student))!;
    expect(await address(student, 'GET')).toBe(url);
    const { sat, give } = await returned(student);
    expect(await itemsAt(url)).toEqual([]);
    await give();
    const [item] = await itemsAt(url);
    expect(item!.title).toBe('Harbour <& bell>, 1');
    expect(item!.enclosure.url).toContain(sat.takeId);
    const text = await (await open(url)).text();
    expect(text).not.toMatch(/Not for other ears|points/i);
    const whole = await open(item!.enclosure.url);
    const bytes = await whole.arrayBuffer();
    expect([whole.status, String(bytes.byteLength)]).toEqual([200, String(item!.enclosure.length)]);
    expect(whole.headers.get('content-type')).toBe(item!.enclosure.type);
    const piece = await open(item!.enclosure.url, { Range: 'bytes=0-99' });
    expect([piece.status, (await piece.arrayBuffer()).byteLength]).toEqual([206, 100]);
  });

  it('leads to nobody else’s recordings, and to none that is taken back or not given', async () => {
    const url = (await address(student))!;
    const own = await returned(student);
    const theirs = await returned(other);
    await theirs.give();
    const sound = (takeId: string) => url.replace('work.rss', `sounds/${takeId}`);
    expect((await open(sound(theirs.sat.takeId))).status).toBe(404);
    expect((await open(sound(own.sat.takeId))).status).toBe(404);
    await own.give();
    expect((await open(sound(own.sat.takeId))).status).toBe(200);
    // Its student has not looked at it yet, so its teacher takes it back.
    await teacher.ask('POST', `/api/releases/${own.release.id}/feedback/calling-off`, {
      sittingIds: [own.sat.id],
    });
    expect((await open(sound(own.sat.takeId))).status).toBe(404);
    expect((await itemsAt(url)).map(i => i.enclosure.url).join()).not.toContain(own.sat.takeId);
  });

  it('ends with its address: a new one, none, a closed account', async () => {
    const before = (await address(student))!;
    const { give } = await returned(student);
    await give();
    const [item] = await itemsAt(before);
    const now = (await address(student))!;
    expect(now).not.toBe(before);
    expect((await open(before)).status).toBe(404);
    expect((await open(item!.enclosure.url)).status).toBe(404);
    expect((await itemsAt(now)).length).toBeGreaterThan(0);
    await execute(t.ecoute.pool, 'UPDATE people SET closed_at = UTC_TIMESTAMP(3) WHERE id = :id', student);
    expect((await open(now)).status).toBe(404);
    await execute(t.ecoute.pool, 'UPDATE people SET closed_at = NULL WHERE id = :id', student);
    expect(await address(student, 'DELETE')).toBeNull();
    expect((await open(now)).status).toBe(404);
    expect((await teacher.ask('POST', '/api/podcast')).status).toBe(403);
  });
});
