import { randomUUID } from 'node:crypto';
import type { HandoverView, PhoneView } from '@ecoute/contract/handovers';
import type { SittingView } from '@ecoute/contract/sittings';
import { send, settled, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('a sitting recorded with a phone', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
  });
  afterAll(() => t.close());

  async function begun() {
    const student = await t.person('student', [classId]);
    const items = [spokenItem(), spokenItem({ promptText: 'And your age.' })];
    const release = await t.release(teacher, classId, {}, 3_600_000, { items, directions: 'Speak up.' });
    const { body } = await student.ask<SittingView>('POST', `/api/releases/${release.id}/sitting`);
    const offer = (itemId = items[1]!.id) =>
      student.ask<HandoverView>('POST', `/api/sittings/${body.id}/items/${itemId}/handover`);
    return { student, id: body.id, items, offer };
  }
  const take = (itemId: string) => ({
    recordingId: randomUUID(),
    itemId,
    mediaType: 'audio/wav',
    beganAt: new Date().toISOString(),
  });

  it('is opened by its code once, shows one item at a time, and the take is in the sitting', async () => {
    const { student, id, items, offer } = await begun();
    const { body: code } = await offer();
    expect(code.url).toBe(`https://ecoute.example/p/${code.code}`);
    const told: unknown[] = [];
    const stop = await student.listen(message => told.push(message));

    const phone = t.visitor();
    const opened = await phone.ask<PhoneView>('POST', '/api/phone', { code: code.code.toUpperCase() });
    expect(opened.body.sitting.content.items.map(i => i.promptText)).toEqual(['And your age.']);
    expect(opened.body.sitting.content.directions).toBe('');
    // The code is used up: another phone finds nothing.
    const late = await t.visitor().ask<{ message: string }>('POST', '/api/phone', { code: code.code });
    const guessed = await t
      .visitor()
      .ask<{ message: string }>('POST', '/api/phone', { code: '2222-3333-4444' });
    expect([late.status, guessed.status, late.body.message === guessed.body.message]).toEqual([
      404,
      404,
      true,
    ]);

    const wanted = take(items[1]!.id);
    expect((await phone.ask('POST', '/api/phone/takes', take(randomUUID()))).status).toBe(404);
    expect((await phone.ask('POST', '/api/phone/takes', wanted)).body).toMatchObject({
      source: 'phone',
      number: 1,
    });
    await send(phone, wanted.recordingId, tone(2));
    expect(await settled(phone, wanted.recordingId)).toMatchObject({ state: 'stored', durationMs: 2_000 });
    expect((await phone.ask('GET', `/api/recordings/${wanted.recordingId}/sound`)).status).toBe(200);
    const { body: seen } = await student.ask<SittingView>('GET', `/api/sittings/${id}`);
    expect(seen.takes).toEqual([expect.objectContaining({ id: wanted.recordingId, source: 'phone' })]);
    expect(seen.events.map(e => e.kind)).toContain('phoneOpened');
    // The first screen learns of it automatically.
    expect(told).toContainEqual({ kind: 'sitting', id });
    stop();
  });

  it('lets a phone do nothing else, and nothing more once it is over', async () => {
    const { student, id, items, offer } = await begun();
    const phone = t.visitor();
    await phone.ask('POST', '/api/phone', { code: (await offer()).body.code });
    for (const path of [`/api/sittings/${id}`, '/api/todo', '/api/my-recordings', '/api/session'])
      expect([path, (await phone.ask('GET', path)).status]).toEqual([
        path,
        path === '/api/session' ? 200 : 401,
      ]);
    expect((await phone.ask('POST', `/api/sittings/${id}/hand-in`, { withGaps: true })).status).toBe(401);
    // Another student's take, and one of this sitting that the phone did not record.
    const own = take(items[1]!.id);
    await student.ask('POST', `/api/sittings/${id}/takes`, own);
    expect((await phone.ask('HEAD', `/api/uploads/${own.recordingId}`)).status).toBe(401);
    // The account of the whole sitting is the first screen's.
    const event = { id: randomUUID(), itemId: null, kind: 'breakBegan', at: new Date().toISOString() };
    await phone.ask('POST', '/api/phone/events', { events: [event] });
    expect(
      (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.events.map(e => e.kind),
    ).toEqual(['phoneOpened']);
    expect((await phone.ask('DELETE', '/api/phone')).status).toBe(204);
    expect((await phone.ask('GET', '/api/phone')).status).toBe(404);
    expect((await phone.ask('POST', '/api/phone/takes', own)).status).toBe(404);
  });

  it('goes from item to item with one code, by itself or brought by the first screen, until it is sent away', async () => {
    const { student, id, items, offer } = await begun();
    const phone = t.visitor();
    await phone.ask('POST', '/api/phone', { code: (await offer(items[0]!.id)).body.code });
    const early = take(items[0]!.id);
    await phone.ask('POST', '/api/phone/takes', early);
    const moved = await phone.ask<PhoneView>('PUT', '/api/phone/item', { itemId: items[1]!.id });
    expect(moved.body.sitting.content.items.map(i => i.id)).toEqual([items[1]!.id]);
    expect([moved.body.itemIds, moved.body.numbers]).toEqual([items.map(i => i.id), [1, 2]]);
    expect((await phone.ask('PUT', '/api/phone/item', { itemId: randomUUID() })).status).toBe(404);
    // What it recorded before still arrives.
    await send(phone, early.recordingId, tone(1));
    expect(await settled(phone, early.recordingId)).toMatchObject({ state: 'stored' });
    const bring = (who: Visitor, itemId: string) => who.ask('PUT', `/api/sittings/${id}/phone`, { itemId });
    const stranger = await t.person('student', [classId]);
    expect((await bring(stranger, items[0]!.id)).status).toBe(404);
    expect((await stranger.ask('DELETE', `/api/sittings/${id}/phone`)).status).toBe(404);
    await bring(student, items[0]!.id);
    expect((await phone.ask<PhoneView>('GET', '/api/phone')).body.sitting.content.items[0]!.id).toBe(
      items[0]!.id,
    );
    // Sent away in the middle of a take: that one still arrives, and nothing more begins.
    const last = take(items[0]!.id);
    await phone.ask('POST', '/api/phone/takes', last);
    await student.ask('DELETE', `/api/sittings/${id}/phone`);
    expect((await phone.ask('GET', '/api/phone')).status).toBe(409);
    expect((await phone.ask('POST', '/api/phone/takes', take(items[0]!.id))).status).toBe(409);
    await send(phone, last.recordingId, tone(1));
    const kinds = (await student.ask<SittingView>('GET', `/api/sittings/${id}`)).body.events.map(e => e.kind);
    expect(kinds.filter(k => k.startsWith('phone'))).toEqual([
      'phoneOpened',
      'phoneOpened',
      'phoneOpened',
      'phoneLeft',
    ]);
  });

  it('is offered for the student’s own items only; a new code ends the one before', async () => {
    const { id, items, offer } = await begun();
    const stranger = await t.person('student', [classId]);
    expect((await stranger.ask('POST', `/api/sittings/${id}/items/${items[0]!.id}/handover`)).status).toBe(
      404,
    );
    expect((await offer(randomUUID())).status).toBe(404);
    const first = (await offer()).body.code;
    const second = (await offer()).body.code;
    expect((await t.visitor().ask('POST', '/api/phone', { code: first })).status).toBe(404);
    expect((await t.visitor().ask('POST', '/api/phone', { code: second })).status).toBe(200);
  });
});
