import { randomUUID } from 'node:crypto';
import { blankContent, blankDiscussion, blankItem } from '@ecoute/contract/blank';
import type { DiscussionView, LeadView, Place } from '@ecoute/contract/discussions';
import type { GuestView, LinkView } from '@ecoute/contract/guests';
import type { FeedbackView, ListenView } from '@ecoute/contract/marking';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import type { TodoEntry } from '@ecoute/contract/sittings';
import { execute } from '../../platform/database';
import { announceVoice, heldDiscussion, putIn as putItIn, spokenDraft } from '../../testing/discussion';
import { send, settled, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('discussions', () => {
  let t: TestEcoute;
  let classId: string;
  let teacher: Visitor;
  let ana: Visitor;
  let ben: Visitor;
  let cora: Visitor;
  let stranger: Visitor;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    ana = await t.person('student', [classId]);
    ben = await t.person('student', [classId]);
    cora = await t.person('student', [classId]);
    stranger = await t.person('student', [await t.class()]);
  });
  afterAll(() => t.close());

  /** A discussion of the class, open now. */
  const released = (
    plan?: Parameters<typeof heldDiscussion>[2],
    terms?: Parameters<typeof heldDiscussion>[3],
  ) => heldDiscussion(teacher, classId, plan, terms);
  const doorOf = (who: Visitor) => (who === teacher ? 'lead' : 'discussion');
  const announce = (who: Visitor, releaseId: string, place: Place = {}, over: object = {}) =>
    announceVoice(who, doorOf(who), releaseId, place, over);
  const spoken = (who: Visitor, releaseId: string, place: Place = {}) =>
    spokenDraft(who, doorOf(who), releaseId, place);
  /** Words alone where there are any, what was spoken otherwise. */
  const putIn = (who: Visitor, releaseId: string, id: string, place: Place = {}, words = '') =>
    putItIn(who, doorOf(who), releaseId, id, place, { words, isSpoken: words === '' });
  const say = async (who: Visitor, releaseId: string, place: Place = {}, words = '') => {
    const id = await spoken(who, releaseId, place);
    expect((await putIn(who, releaseId, id, place, words)).status).toBe(200);
    return id;
  };
  const look = async (who: Visitor, releaseId: string) =>
    (await who.ask<DiscussionView>('GET', `/api/releases/${releaseId}/discussion`)).body;
  const lead = async (releaseId: string) =>
    (await teacher.ask<LeadView>('GET', `/api/releases/${releaseId}/lead`)).body;
  const hears = async (who: Visitor, id: string) =>
    (await who.ask('GET', `/api/recordings/${id}/sound`)).status;
  const act = (who: Visitor, method: string, releaseId: string, id: string, what = '', body?: unknown) =>
    who.ask<DiscussionView & LeadView>(
      method,
      `/api/releases/${releaseId}/${doorOf(who)}/contributions/${id}${what}`,
      body,
    );
  const studentsOf = async (releaseId: string) =>
    (await teacher.ask<ReleaseDetail>('GET', `/api/releases/${releaseId}`)).body.students;

  it('is heard by those who take part once it is put in, and by nobody before', async () => {
    const { id, page } = await released();
    const draft = await spoken(ana, id, { topicId: page.id });
    expect((await look(ana, id)).contributions).toMatchObject([{ id: draft, state: 'draft' }]);
    expect((await look(ben, id)).contributions).toEqual([]);
    expect((await lead(id)).contributions).toEqual([]);
    expect(await Promise.all([ana, ben, teacher].map(w => hears(w, draft)))).toEqual([200, 404, 404]);
    // Nor does any other page of the teacher lead to it.
    const shown = async () =>
      JSON.stringify(
        await Promise.all(
          ['', '/lanes', '/evidence'].map(what => teacher.ask('GET', `/api/releases/${id}${what}`)),
        ),
      );
    expect(await shown()).not.toContain(draft);
    await putIn(ana, id, draft, { topicId: page.id }, 'a reference');
    expect((await look(ben, id)).contributions).toMatchObject([
      { id: draft, state: 'here', topicId: page.id, words: 'a reference', heard: false, isMine: false },
    ]);
    expect(await Promise.all([ben, teacher, stranger].map(w => hears(w, draft)))).toEqual([200, 200, 404]);
    // What is new is counted until it was heard.
    const unheard = async (who: Visitor) =>
      (await who.ask<TodoEntry[]>('GET', '/api/todo')).body.find(e => e.releaseId === id)!.discussion
        ?.unheard;
    expect([await unheard(ben), await unheard(ana)]).toEqual([1, 0]);
    await ben.ask('POST', `/api/releases/${id}/discussion/heard`, { ids: [draft, randomUUID()] });
    expect([await unheard(ben), (await look(ben, id)).contributions[0]!.heard]).toEqual([0, true]);
  });

  it('keeps two replies of the same moment, and replies to what is gone since', async () => {
    const { id } = await released();
    const first = await say(ana, id);
    const [his, hers] = [await spoken(ben, id), await spoken(cora, id)];
    const place = { parentId: first, fromMs: 100, toMs: 600 };
    const both = await Promise.all([putIn(ben, id, his, place), putIn(cora, id, hers, place)]);
    expect(both.map(a => a.status)).toEqual([200, 200]);
    const replies = (await look(ana, id)).contributions.filter(c => c.parentId === first);
    expect(replies.map(r => [r.id, r.fromMs, r.toMs]).sort()).toEqual(
      [his, hers].sort().map(r => [r, 100, 600]),
    );
    // Somebody has replied: it stays.
    expect(await act(ana, 'DELETE', id, first)).toMatchObject({ status: 409, body: { code: 'inUse' } });
    // A reply to what the teacher hides in the same moment is kept in its place.
    await act(teacher, 'PUT', id, his, '/hidden', { reason: 'Not kind.' });
    const late = await say(cora, id, { parentId: his });
    const seen = (await look(ana, id)).contributions;
    expect(seen.find(c => c.id === his)).toMatchObject({
      state: 'hidden',
      voiceId: null,
      authorName: '',
      hiddenFor: null,
    });
    expect(seen.find(c => c.id === late)).toMatchObject({ parentId: his, state: 'here' });
    expect(await hears(ana, his)).toBe(404);
    // Its author is told why, and hears it.
    expect((await look(ben, id)).contributions.find(c => c.id === his)).toMatchObject({
      state: 'hidden',
      hiddenFor: 'Not kind.',
      voiceId: his,
    });
    await act(teacher, 'DELETE', id, his, '/hidden');
    expect(await hears(ana, his)).toBe(200);
  });

  it('is taken back until somebody replies, and had back; a correction takes its place', async () => {
    const { id } = await released();
    const first = await say(ana, id);
    await act(ana, 'DELETE', id, first);
    expect((await look(ben, id)).contributions).toEqual([]);
    expect(await Promise.all([ben, teacher, ana].map(w => hears(w, first)))).toEqual([404, 404, 200]);
    await act(ana, 'POST', id, first, '/back');
    const reply = await say(ben, id, { parentId: first });
    const better = await spoken(ana, id, { correctsId: first });
    // Until it is put in, others hear what it corrects.
    expect((await look(ben, id)).contributions.map(c => c.id)).toEqual([first, reply]);
    await putIn(ana, id, better, { correctsId: first });
    const seen = (await look(ben, id)).contributions;
    expect(seen.map(c => [c.id, c.parentId])).toEqual([
      [reply, better],
      [better, null],
    ]);
    expect(seen[1]).toMatchObject({ earlier: [] });
    expect(await hears(ben, first)).toBe(404);
    expect((await lead(id)).contributions.find(c => c.id === better)!.earlier).toMatchObject([{ id: first }]);
    // Nobody corrects, or takes back, what is somebody else's.
    expect((await putIn(ben, id, await spoken(ben, id), { correctsId: better })).status).toBe(404);
    expect((await act(ben, 'DELETE', id, better)).status).toBe(404);
    expect(
      (await act(ben, 'PUT', id, better, '', { place: {}, title: '', words: 'mine', isSpoken: false }))
        .status,
    ).toBe(404);
  });

  it('keeps the picture that it was put in with; the first may come after it', async () => {
    const { id } = await released({ pictureAllowed: true });
    const draft = await spoken(ana, id);
    const picture = `/api/takes/${draft}/picture`;
    const bring = async (pictureId: string) =>
      (await ana.ask('POST', picture, { recordingId: pictureId, mediaType: 'image/png' })).status;
    const shown = async () => (await look(ben, id)).contributions[0]?.pictureId ?? null;
    const [first, second] = [randomUUID(), randomUUID()];
    // As a draft it is changed and taken away at will.
    expect(await bring(randomUUID())).toBe(200);
    expect((await ana.ask('DELETE', picture)).status).toBe(200);
    await putIn(ana, id, draft);
    expect(await shown()).toBeNull();
    // From the device the two travel separately, and twice is once.
    expect([await bring(first), await bring(first), await shown()]).toEqual([200, 200, first]);
    expect([await bring(second), (await ana.ask('DELETE', picture)).status]).toEqual([409, 409]);
    // Nor is it another one for whoever takes it back for a moment.
    await act(ana, 'DELETE', id, draft);
    expect([await bring(second), (await ana.ask('DELETE', picture)).status]).toEqual([409, 409]);
    await act(ana, 'POST', id, draft, '/back');
    expect(await shown()).toBe(first);
  });

  it('lets no picture in that the teacher did not see, where contributions wait for that', async () => {
    const { id } = await released({ pictureAllowed: true, moderated: true });
    const bring = async (take: string) =>
      (
        await ana.ask('POST', `/api/takes/${take}/picture`, {
          recordingId: randomUUID(),
          mediaType: 'image/png',
        })
      ).status;
    const [waits, isIn] = [await say(ana, id), await say(ana, id)];
    await act(teacher, 'POST', id, isIn, '/let-in');
    expect([await bring(waits), await bring(isIn)]).toEqual([200, 409]);
  });

  it('waits for its teacher where that is asked for', async () => {
    const { id } = await released({ moderated: true });
    const first = await say(ana, id);
    expect((await look(ana, id)).contributions).toMatchObject([{ id: first, state: 'waiting' }]);
    expect([(await look(ben, id)).contributions, await hears(ben, first)]).toEqual([[], 404]);
    expect((await lead(id)).contributions).toMatchObject([{ id: first, state: 'waiting' }]);
    await act(teacher, 'POST', id, first, '/let-in');
    expect([(await look(ben, id)).contributions.length, await hears(ben, first)]).toEqual([1, 200]);
    // What a correction corrects is heard until the correction is let in as well.
    const better = await say(ana, id, { correctsId: first });
    expect((await look(ben, id)).contributions.map(c => c.id)).toEqual([first]);
    await act(teacher, 'POST', id, better, '/let-in');
    expect((await look(ben, id)).contributions.map(c => c.id)).toEqual([better]);
  });

  it('lets nobody hear others before they have contributed, where that is asked for', async () => {
    const { id } = await released({ hearsAfter: true });
    const first = await say(ana, id);
    const welcome = await say(teacher, id);
    expect(await look(ben, id)).toMatchObject({ behindOwn: 1, contributions: [{ id: welcome }] });
    expect([await hears(ben, first), await hears(ben, welcome)]).toEqual([404, 200]);
    const own = await spoken(ben, id);
    expect(await hears(ben, first)).toBe(404);
    await putIn(ben, id, own);
    expect(await look(ben, id)).toMatchObject({ behindOwn: 0 });
    expect(await hears(ben, first)).toBe(200);
    // Taken back, it opens nothing any more.
    await act(ben, 'DELETE', id, own);
    expect(await hears(ben, first)).toBe(404);
  });

  it('hides names from students where they do not show, in every word', async () => {
    const { id } = await released({ namesShown: false });
    await say(ana, id);
    const seen = await look(ben, id);
    expect(seen.contributions[0]).toMatchObject({ authorName: '', number: expect.any(Number) });
    expect(seen.with).toEqual([]);
    expect(JSON.stringify(seen)).not.toContain(ana.id);
    expect((await lead(id)).contributions[0]!.authorName).toContain('Name of');
  });

  it('shares people out into circles that do not hear each other, by lot and by hand', async () => {
    const dario = await t.person('student', [classId]);
    const { id } = await released({ circles: 'lot', circleSize: 2 });
    const four = [ana, ben, cora, dario];
    // All look at once: they are shared out once.
    await Promise.all(four.map(w => look(w, id)));
    const { people } = await lead(id);
    const circleOf = (w: Visitor) => people.find(p => p.personId === w.id)!.circle;
    expect(four.map(circleOf).sort()).toEqual([1, 1, 2, 2]);
    const mate = four.find(w => w !== ana && circleOf(w) === circleOf(ana))!;
    const others = four.filter(w => circleOf(w) !== circleOf(ana));
    const first = await say(ana, id);
    expect(await Promise.all([mate, ...others, teacher].map(w => hears(w, first)))).toEqual([
      200, 404, 404, 200,
    ]);
    expect((await look(others[0]!, id)).contributions).toEqual([]);
    // A reply into another circle is to nothing.
    const reply = await spoken(others[0]!, id);
    expect((await putIn(others[0]!, id, reply, { parentId: first })).status).toBe(404);
    // The teacher speaks to everybody, or answers one circle.
    const toAll = await say(teacher, id);
    const toOne = await say(teacher, id, { parentId: first });
    // What they recorded for it is still theirs, to be put in elsewhere.
    expect((await look(others[0]!, id)).contributions.map(c => [c.id, c.state])).toEqual([
      [reply, 'draft'],
      [toAll, 'here'],
    ]);
    expect(await hears(others[0]!, toOne)).toBe(404);
    // By hand: whoever moves hears the other circle, and what they said stays where it was said.
    await teacher.ask('PUT', `/api/releases/${id}/lead/circles`, {
      by: 'hand',
      people: [{ personId: others[0]!.id, circle: circleOf(ana) }],
    });
    expect(await hears(others[0]!, first)).toBe(200);
    // Whoever comes later has a circle at once.
    const late = await t.person('student');
    await execute(t.ecoute.pool, 'INSERT INTO participants (release_id, person_id) VALUES (:id, :person)', {
      id,
      person: late.id,
    });
    await look(late, id);
    expect((await lead(id)).people.find(p => p.personId === late.id)!.circle).toBeGreaterThan(0);
    expect(
      await teacher.ask('PUT', `/api/releases/${id}/lead/circles`, {
        by: 'hand',
        people: [{ personId: stranger.id, circle: 1 }],
      }),
    ).toMatchObject({ status: 422 });
  });

  it('follows the groups of the class', async () => {
    const other = await t.class();
    const leads = await t.person('teacher', [other]);
    const people = [await t.person('student', [other]), await t.person('student', [other])];
    const [one, two] = people as [Visitor, Visitor];
    const group = await leads.ask('POST', `/api/classes/${other}/groups`, {
      name: 'Port',
      memberIds: [one.id],
    });
    expect(group.status).toBe(200);
    const made = await leads.ask<{ id: string }>('POST', '/api/assessments', {
      ...blankContent('discussion', {
        title: 'G',
        items: [blankItem(randomUUID(), 'discussion', { promptText: 'x' })],
      }),
      discussion: blankDiscussion({ circles: 'groups' }),
    });
    const release = await leads.ask<{ id: string }>('POST', '/api/releases', {
      assessmentId: made.body.id,
      classId: other,
      dueAt: new Date(Date.now() + 3_600_000).toISOString(),
      lateAccepted: true,
      note: '',
    });
    await look(two, release.body.id);
    const { people: seen } = (await leads.ask<LeadView>('GET', `/api/releases/${release.body.id}/lead`)).body;
    // One who is in no group is not left alone.
    expect(seen.map(p => p.circle)).toEqual([1, 1]);
  });

  it('is handed in with the last of what is asked, or when it is due; the count is there and the score is not', async () => {
    const { id, talk } = await released();
    const first = await say(ana, id);
    const stateOf = async (who: Visitor) => (await studentsOf(id)).find(s => s.id === who.id)!.state;
    expect([await stateOf(ana), await stateOf(ben)]).toEqual(['underWay', 'notOpened']);
    const hers = await say(ben, id);
    await say(ana, id, { parentId: hers });
    expect(await stateOf(ana)).toBe('handedIn');
    expect((await look(ana, id)).given).toMatchObject({ contributions: 1, replies: 1, spokenMs: 2_000 });
    const { lanes } = (await teacher.ask<ListenView>('GET', `/api/releases/${id}/lanes`)).body;
    const lane = lanes.find(l => l.studentId === ana.id)!;
    expect(lane).toMatchObject({ itemId: talk.id, state: 'handedIn', mark: null, late: false });
    expect(lane.talk!.given).toMatchObject({ contributions: 1, replies: 1 });
    expect(lane.talk!.contributions.map(c => [c.id === first, c.to?.takeId ?? null])).toEqual([
      [true, null],
      [false, hers],
    ]);
    // It goes on: somebody who is through may still speak, and the marked talk is not opened by it.
    await say(ana, id, { parentId: hers });
    expect(await stateOf(ana)).toBe('handedIn');
    // Due: whoever said something has handed in, and is not late for it.
    await execute(t.ecoute.pool, 'UPDATE releases SET due_at = UTC_TIMESTAMP(3) WHERE id = :id', {
      id,
    });
    await t.ecoute.jobs.sweep();
    expect((await studentsOf(id)).find(s => s.id === ben.id)).toMatchObject({
      state: 'handedIn',
      late: false,
    });
    // Late is late.
    await say(cora, id);
    expect((await studentsOf(id)).find(s => s.id === cora.id)).toMatchObject({
      state: 'handedIn',
      late: true,
    });
  });

  it('tells what feedback is about from what was said after it', async () => {
    const { id, talk } = await released({ repliesAsked: 0 });
    const about = await say(ana, id);
    const said = async () =>
      (await teacher.ask<ListenView>('GET', `/api/releases/${id}/lanes`)).body.lanes.find(
        l => l.studentId === ana.id,
      )!;
    const { sittingId } = await said();
    await teacher.ask('PUT', `/api/sittings/${sittingId}/marks/${talk.id}`, {
      revision: 0,
      points: 4,
      comment: 'Calm and clear.',
      finished: true,
      reason: '',
    });
    expect(
      await teacher.ask('POST', `/api/releases/${id}/feedback`, { sittingIds: [sittingId] }),
    ).toMatchObject({ status: 200 });
    const after = await say(ana, id);
    const heard = [
      { id: about, afterFeedback: false },
      { id: after, afterFeedback: true },
    ];
    expect((await said()).talk!.contributions).toMatchObject(heard);
    const { body } = await ana.ask<FeedbackView>('GET', `/api/sittings/${sittingId}/feedback`);
    expect(body.items.find(i => i.talk)!.talk!.contributions).toMatchObject(heard);
  });

  it('takes what was begun before the end, however late it comes, and nothing begun after', async () => {
    const { id } = await released({ writtenAllowed: true }, { lateAccepted: false });
    const before = await announce(ana, id);
    await execute(
      t.ecoute.pool,
      `UPDATE releases SET opens_at = UTC_TIMESTAMP(3) - INTERVAL 1 HOUR, due_at = UTC_TIMESTAMP(3) - INTERVAL 1 MINUTE
       WHERE id = :id`,
      {
        id,
      },
    );
    await send(ana, before.recordingId, tone(1));
    await settled(ana, before.recordingId);
    expect((await putIn(ana, id, before.recordingId)).status).toBe(200);
    const offline = await announce(ben, id, {}, { beganAt: new Date(Date.now() - 120_000).toISOString() });
    expect(offline.status).toBe(200);
    expect(await announce(ben, id)).toMatchObject({ status: 409, body: { code: 'releaseClosed' } });
    expect((await putIn(ben, id, randomUUID(), {}, 'too late')).status).toBe(409);
    expect((await look(ben, id)).closedFor).toContain('closed');
  });

  it('takes words alone only where they are allowed, places only where threads may begin, and nothing empty', async () => {
    const strict = await released({ ownSubjects: false });
    expect((await putIn(ana, strict.id, randomUUID(), { topicId: strict.page.id }, 'words')).status).toBe(
      409,
    );
    const draft = await spoken(ana, strict.id);
    expect(await putIn(ana, strict.id, draft)).toMatchObject({
      status: 409,
      body: { code: 'notForThisItem' },
    });
    // What was recorded is still there.
    expect((await look(ana, strict.id)).contributions).toMatchObject([{ id: draft, state: 'draft' }]);
    expect((await putIn(ana, strict.id, draft, { topicId: strict.talk.id })).status).toBe(404);
    expect((await putIn(ana, strict.id, draft, { topicId: strict.page.id })).status).toBe(200);
    const free = await released({ writtenAllowed: true });
    const id = randomUUID();
    // What is spoken is announced first: told out of order, it is no contribution without a voice.
    expect(await putIn(ana, free.id, randomUUID())).toMatchObject({ body: { code: 'unfinished' } });
    expect((await putIn(ana, free.id, id, {}, '  ')).status).toBe(422);
    expect((await putIn(ana, free.id, id, {}, '<b onclick=x>hello</b>')).status).toBe(200);
    expect((await putIn(ana, free.id, id, {}, 'twice is once')).status).toBe(200);
    expect((await look(ben, free.id)).contributions).toMatchObject([
      { id, words: '<b onclick=x>hello</b>', voiceId: null },
    ]);
  });

  it('tells its author when what is put in does not stand, and lets nobody wait for it', async () => {
    const { id } = await released();
    const { recordingId } = await announce(ana, id);
    expect((await putIn(ana, id, recordingId)).status).toBe(200);
    expect((await look(ana, id)).contributions).toMatchObject([{ state: 'coming' }]);
    await send(ana, recordingId, new Uint8Array([1, 2, 3]));
    await settled(ana, recordingId);
    const [own] = (await look(ana, id)).contributions;
    expect(own).toMatchObject({ state: 'draft', voiceState: 'refused' });
    expect(own!.problem).toContain('Record again');
    expect([(await look(ben, id)).contributions, (await lead(id)).contributions]).toEqual([[], []]);
    await act(ana, 'DELETE', id, recordingId);
    expect((await look(ana, id)).contributions).toEqual([]);
  });

  it('counts what is put in in the very moment in which its sound is looked at', async () => {
    const { id } = await released({ repliesAsked: 0 });
    for (const who of [ana, ben, cora]) {
      const { recordingId } = await announce(who, id);
      await Promise.all([send(who, recordingId, tone(1)), putIn(who, id, recordingId)]);
      await settled(who, recordingId);
    }
    const seen = (await look(ana, id)).contributions;
    expect(seen.map(c => c.state)).toEqual(['here', 'here', 'here']);
    const mine = [ana, ben, cora].map(w => w.id);
    const states = (await studentsOf(id)).filter(s => mine.includes(s.id)).map(s => s.state);
    expect(states).toEqual(['handedIn', 'handedIn', 'handedIn']);
  });

  it('is no way around a sitting, nor a sitting around it', async () => {
    const { id, talk } = await released();
    const ordinary = await t.release(teacher, classId);
    expect(await ana.ask('POST', `/api/releases/${id}/sitting`)).toMatchObject({ status: 409 });
    expect((await ana.ask('GET', `/api/releases/${ordinary.id}/discussion`)).status).toBe(404);
    expect((await announce(ana, ordinary.id)).status).toBe(404);
    const first = await say(ana, id);
    const [{ id: sittingId }] = (
      await t.ecoute.pool.query('SELECT sitting_id AS id FROM contributions WHERE id = ?', [first])
    )[0] as unknown as [{ id: string }];
    expect(await ana.ask('POST', `/api/sittings/${sittingId}/hand-in`, { withGaps: true })).toMatchObject({
      status: 409,
    });
    expect(
      await ana.ask('POST', `/api/sittings/${sittingId}/takes`, {
        recordingId: randomUUID(),
        itemId: talk.id,
        mediaType: 'audio/wav',
        beganAt: new Date().toISOString(),
      }),
    ).toMatchObject({ status: 409 });
    // Nor is it sat once more by a decision.
    for (const kind of ['askAgain', 'another'])
      expect(
        await teacher.ask('POST', `/api/releases/${id}/decisions`, { kind, sittingId, reason: 'Once more.' }),
      ).toMatchObject({ status: 409, body: { code: 'isDiscussion' } });
    expect(
      await teacher.ask('PUT', `/api/releases/${id}/exceptions/${ana.id}`, { another: true }),
    ).toMatchObject({ status: 409, body: { code: 'isDiscussion' } });
    // One's own recording of elsewhere is not smuggled in under its id.
    const elsewhere = await announce(ana, id);
    expect((await announce(ben, id, {}, { recordingId: elsewhere.recordingId })).status).toBe(404);
    expect((await putIn(ana, (await released()).id, elsewhere.recordingId)).status).toBe(409);
  });

  it('takes guests in by a link; what one said is the student’s whom they turn out to be', async () => {
    const { id } = await released();
    const [link] = (await teacher.ask<LinkView[]>('POST', `/api/releases/${id}/links`, { keepDays: 30 }))
      .body;
    const guest = t.visitor();
    expect((await guest.ask('POST', `/api/links/${link!.code}/guests`, { name: 'Gwen' })).status).toBe(200);
    const first = await say(ana, id);
    const theirs = await say(guest, id, { parentId: first });
    expect([await hears(guest, first), await hears(ana, theirs)]).toEqual([200, 200]);
    const author = async (name: string) => (await lead(id)).people.find(p => p.name.startsWith(name))!.author;
    const said = async () => (await lead(id)).contributions.find(c => c.id === theirs)!.author;
    expect(await said()).toBe(await author('Gwen'));
    const [gwen] = (await teacher.ask<GuestView[]>('GET', `/api/releases/${id}/guests`)).body;
    const merged = await teacher.ask('POST', `/api/releases/${id}/guests/${gwen!.id}/merge`, {
      into: ben.id,
    });
    expect(merged.status).toBe(200);
    expect((await lead(id)).people.find(p => p.personId === ben.id)).toMatchObject({
      author: await said(),
      given: { replies: 1 },
    });
    expect((await look(ben, id)).contributions.find(c => c.id === theirs)).toMatchObject({ isMine: true });
  });

  it('tells open pages of one contribution, and gives it alone to whoever may hear it', async () => {
    const { id } = await released({ hearsAfter: true, moderated: true });
    const told: { kind: string; id: string | null }[] = [];
    const stop = await cora.listen(message => told.push(message as (typeof told)[number]));
    const one = async (who: Visitor, said: string) =>
      (
        await who.ask<{ contribution: { id: string } | null }>(
          'GET',
          `/api/releases/${id}/${doorOf(who)}/contributions/${said}`,
        )
      ).body.contribution?.id ?? null;
    const own = await say(cora, id);
    await act(teacher, 'POST', id, own, '/let-in');
    const draft = await spoken(ana, id);
    expect([await one(cora, draft), await one(teacher, draft), await one(ana, draft)]).toEqual([
      null,
      null,
      draft,
    ]);
    await putIn(ana, id, draft);
    // It waits: its teacher sees it, nobody else does, and nobody else is told.
    expect([await one(cora, draft), await one(teacher, draft)]).toEqual([null, draft]);
    expect(told.some(m => m.id === draft)).toBe(false);
    await act(teacher, 'POST', id, draft, '/let-in');
    while (!told.some(m => m.kind === 'said' && m.id === draft))
      await new Promise(resolve => setTimeout(resolve, 20));
    expect([await one(cora, draft), await one(ben, draft)]).toEqual([draft, null]);
    const elsewhere = (await released()).id;
    expect(
      (await ana.ask('GET', `/api/releases/${elsewhere}/discussion/contributions/${draft}`)).body,
    ).toEqual({ contribution: null });
    expect((await stranger.ask('GET', `/api/releases/${id}/discussion/contributions/${draft}`)).status).toBe(
      404,
    );
    stop();
  });

  it('keeps what somebody said who left the class, named for the teacher', async () => {
    const { id } = await released();
    const gone = await t.person('student', [classId]);
    await execute(t.ecoute.pool, 'INSERT IGNORE INTO participants (release_id, person_id) VALUES (:id, :p)', {
      id,
      p: gone.id,
    });
    const said = await say(gone, id);
    expect((await teacher.ask('DELETE', `/api/classes/${classId}/members/${gone.id}`)).status).toBe(200);
    expect((await look(ana, id)).contributions.map(c => c.id)).toEqual([said]);
    // Whoever left hears the others no more, and says nothing more; their own is still theirs.
    const theirs = await say(ana, id, { parentId: said });
    expect([await hears(gone, theirs), await hears(gone, said)]).toEqual([404, 200]);
    const left = await look(gone, id);
    expect(left.contributions.map(c => c.id)).toEqual([said]);
    expect(left).toMatchObject({ with: [], closedFor: expect.stringContaining('not in this class') });
    expect((await announce(gone, id)).status).toBe(403);
    expect((await lead(id)).people.find(p => p.personId === gone.id)).toMatchObject({
      left: true,
      given: { contributions: 1 },
    });
  });
});
