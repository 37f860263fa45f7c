import { randomUUID } from 'node:crypto';
import type { AssessmentDraft } from '@ecoute/contract/assessments';
import { blankContent, blankStimulus } from '@ecoute/contract/blank';
import type { RichText } from '@ecoute/contract/stimuli';
import type { ReleaseDetail } from '@ecoute/contract/releases';
import type { SittingView } from '@ecoute/contract/sittings';
import { recordTake, send, settled, spokenItem, TestEcoute, tone, type Visitor } from '../../testing/ecoute';

describe('setting and releasing', () => {
  let t: TestEcoute;
  let teacher: Visitor;
  let classId: string;
  beforeAll(async () => {
    t = await TestEcoute.open();
    classId = await t.class();
    teacher = await t.person('teacher', [classId]);
    await t.person('student', [classId]);
  });
  afterAll(() => t.close());

  const make = (content: object) => teacher.ask<AssessmentDraft>('POST', '/api/assessments', content);
  const content = (over = {}) =>
    blankContent('homework', { title: 'Bom dia', items: [spokenItem()], ...over });
  const release = (assessmentId: string, over = {}) =>
    teacher.ask<ReleaseDetail>('POST', '/api/releases', {
      assessmentId,
      classId,
      dueAt: new Date(Date.now() + 60_000).toISOString(),
      lateAccepted: true,
      note: '',
      ...over,
    });

  async function prompt(owner: Visitor, assessmentId: string, bytes = tone(1.5)): Promise<string> {
    const recordingId = randomUUID();
    await owner.ask('POST', `/api/assessments/${assessmentId}/prompts`, {
      recordingId,
      mediaType: 'audio/wav',
      source: 'uploaded',
      fileName: 'a.wav',
    });
    await send(owner, recordingId, bytes);
    await settled(owner, recordingId);
    return recordingId;
  }

  it('says which field does not fit, by its path, and stores nothing of it', async () => {
    const bad = await make(
      content({
        items: [spokenItem(), spokenItem({ points: 1.234, answerLimitMs: 10 })],
        title: 'x'.repeat(161),
      }),
    );
    expect(bad.status).toBe(422);
    expect(bad.body).toMatchObject({
      fields: {
        title: 'A title has at most 160 characters.',
        'items.1.points': 'Points have at most two decimals.',
        'items.1.answerLimitMs': 'An answer needs at least 1 second.',
      },
    });
  });

  it('tells a stale page what is stored now', async () => {
    const { body } = await make(content());
    const save = (revision: number, title: string) =>
      teacher.ask('PUT', `/api/assessments/${body.id}`, { revision, content: content({ title }) });
    expect((await save(1, 'first')).status).toBe(200);
    expect(await save(1, 'second')).toMatchObject({
      status: 409,
      body: { code: 'stale', current: { revision: 2, content: { title: 'first' } } },
    });
  });

  it('takes the length of a prompt from its sound, not from the browser, and only one’s own sounds', async () => {
    const { body } = await make(content());
    const promptRecordingId = await prompt(teacher, body.id);
    const put = (visitor: Visitor, id: string, revision: number) =>
      visitor.ask<AssessmentDraft>('PUT', `/api/assessments/${id}`, {
        revision,
        content: content({ items: [spokenItem({ promptRecordingId, promptDurationMs: 99_000 })] }),
      });
    expect((await put(teacher, body.id, 1)).body.content.items[0]).toMatchObject({ promptDurationMs: 1_500 });
    const stranger = await t.person('teacher');
    const own = await stranger.ask<AssessmentDraft>('POST', '/api/assessments', content());
    expect((await put(stranger, own.body.id, 1)).status).toBe(422);
  });

  it('lets the class hear a prompt only once it is released', async () => {
    const student = await t.person('student', [classId]);
    const { body } = await make(content());
    const promptRecordingId = await prompt(teacher, body.id);
    await teacher.ask('PUT', `/api/assessments/${body.id}`, {
      revision: 1,
      content: content({ items: [spokenItem({ promptRecordingId })] }),
    });
    const sound = `/api/recordings/${promptRecordingId}/sound`;
    expect((await student.ask('GET', sound)).status).toBe(404);
    await release(body.id);
    expect((await student.ask('GET', sound)).status).toBe(200);
  });

  it('does not release what is not ready, or times that contradict each other', async () => {
    const empty = await make(content({ items: [] }));
    expect(await release(empty.body.id)).toMatchObject({
      status: 422,
      body: { message: 'Add an item to answer.' },
    });
    const noPrompt = await make(content({ items: [spokenItem(), spokenItem({ promptText: ' ' })] }));
    expect(await release(noPrompt.body.id)).toMatchObject({
      status: 422,
      body: { message: 'Item 2 has no prompt yet.' },
    });
    const ready = await make(content());
    expect(await release(ready.body.id, { dueAt: '2020-01-01T00:00:00Z' })).toMatchObject({
      status: 422,
      body: { fields: { dueAt: expect.stringContaining('passed already') } },
    });
    expect(
      await release(ready.body.id, { opensAt: new Date(Date.now() + 3_600_000).toISOString() }),
    ).toMatchObject({
      status: 422,
      body: { fields: { dueAt: expect.stringContaining('before it opens') } },
    });
    expect(await release(ready.body.id, { dueAt: 'soon' })).toMatchObject({
      status: 422,
      body: { fields: { dueAt: 'Say when it is due.' } },
    });
  });

  it('freezes one version for as many releases as have the same content', async () => {
    const { body } = await make(content());
    await release(body.id);
    await release(body.id);
    const [rows] = await t.ecoute.pool.query(
      'SELECT COUNT(*) AS n FROM assessment_versions WHERE assessment_id = ?',
      [body.id],
    );
    expect(rows).toEqual([{ n: 1 }]);
    const foreign = await t.person('teacher', [classId]);
    expect(
      (
        await foreign.ask('POST', '/api/releases', {
          assessmentId: body.id,
          classId,
          dueAt: new Date(Date.now() + 60_000).toISOString(),
          lateAccepted: true,
          note: '',
        })
      ).status,
    ).toBe(404);
  });

  describe('with a conversation', () => {
    const conversing = (recordingId: string, gapMs = 2_000, toMs = 1_000) =>
      spokenItem({
        isConversation: true,
        answerLimitMs: 999_000,
        turns: [{ id: randomUUID(), recordingId, fromMs: 0, toMs, gapMs, says: 'greets' }],
      });

    it('takes the limit from the run, keeps turns inside their sound, and refuses sounds of others', async () => {
      const { body } = await make(content());
      const recordingId = await prompt(teacher, body.id, tone(1.2));
      const saved = await teacher.ask<AssessmentDraft>('PUT', `/api/assessments/${body.id}`, {
        revision: 1,
        content: content({ items: [conversing(recordingId, 2_000, 9_000)] }),
      });
      expect(saved.body.content.items[0]).toMatchObject({
        turns: [{ fromMs: 0, toMs: 1_200, gapMs: 2_000 }],
        answerLimitMs: 250 + 1_200 + 2_000,
      });
      const stranger = await t.person('teacher');
      const own = await stranger.ask<AssessmentDraft>('POST', '/api/assessments', blankContent());
      expect(
        await stranger.ask('PUT', `/api/assessments/${own.body.id}`, {
          revision: 1,
          content: content({ items: [conversing(recordingId)] }),
        }),
      ).toMatchObject({ status: 422, body: { fields: { 'content.items.0.turns.0': expect.any(String) } } });
    });

    it('lets the class hear its turns once it is released, and holds takes to the length of the run', async () => {
      const student = await t.person('student', [classId]);
      const { body } = await make(content());
      const recordingId = await prompt(teacher, body.id, tone(1));
      const item = conversing(recordingId);
      await teacher.ask('PUT', `/api/assessments/${body.id}`, {
        revision: 1,
        content: content({ items: [item] }),
      });
      const sound = `/api/recordings/${recordingId}/sound`;
      expect((await student.ask('GET', sound)).status).toBe(404);
      const released = await release(body.id);
      expect((await student.ask('GET', sound)).status).toBe(200);
      const sitting = await student.ask<{ id: string }>('POST', `/api/releases/${released.body.id}/sitting`);
      const take = (seconds: number) => recordTake(student, sitting.body.id, item.id, tone(seconds));
      expect((await take(6)).recording).toMatchObject({ state: 'refused', problem: 'tooLong' });
      expect((await take(3.2)).recording).toMatchObject({ state: 'stored' });
    });

    it('is not released without a turn, or with turns that overlap', async () => {
      const empty = await make(content({ items: [spokenItem({ isConversation: true })] }));
      expect(await release(empty.body.id)).toMatchObject({
        status: 422,
        body: { message: expect.stringContaining('no turn yet') },
      });
      const { body } = await make(content());
      const recordingId = await prompt(teacher, body.id, tone(2));
      const item = conversing(recordingId);
      const later = { ...item.turns[0]!, id: randomUUID(), fromMs: 500, toMs: 1_500 };
      await teacher.ask('PUT', `/api/assessments/${body.id}`, {
        revision: 1,
        content: content({ items: [{ ...item, turns: [...item.turns, later] }] }),
      });
      expect(await release(body.id)).toMatchObject({
        status: 422,
        body: { message: expect.stringContaining('Turns 1 and 2 overlap') },
      });
    });
  });

  describe('formatted text, files and copies', () => {
    const rich = (text: string): RichText => ({
      type: 'doc',
      content: [
        {
          type: 'paragraph',
          attrs: { lang: 'pt' },
          content: [{ type: 'text', text, marks: [{ type: 'italic' }] }],
        },
        {
          type: 'bulletList',
          content: [
            {
              type: 'listItem',
              content: [{ type: 'paragraph', content: [{ type: 'text', text: 'devagar' }] }],
            },
          ],
        },
      ],
    });

    it('keeps the words of a formatted text as they are in it', async () => {
      const item = spokenItem({ promptText: 'something else', promptRich: rich('Lê') });
      const { body } = await make(content({ items: [item], directionsRich: rich('Ouve') }));
      expect(body.content).toMatchObject({
        directions: 'Ouve\n– devagar',
        items: [{ promptText: 'Lê\n– devagar', promptRich: { type: 'doc' } }],
      });
      const bad = await make(content({ directionsRich: { type: 'doc', content: [{ type: 'iframe' }] } }));
      expect(bad).toMatchObject({
        status: 422,
        body: { fields: { directionsRich: expect.stringContaining('cannot be kept') } },
      });
    });

    it('takes no file that is not the teacher’s own, nor a sound in the place of a picture', async () => {
      const other = await t.person('teacher', [classId]);
      const theirs = (await other.ask<AssessmentDraft>('POST', '/api/assessments', content())).body;
      const recordingId = randomUUID();
      await other.ask('POST', `/api/assessments/${theirs.id}/prompts`, {
        recordingId,
        mediaType: 'audio/wav',
        source: 'recorded',
        fileName: null,
      });
      await send(other, recordingId, tone(1));
      await settled(other, recordingId);
      const using = (visitor: Visitor, over: object) =>
        visitor.ask<{ fields: Record<string, string> }>(
          'POST',
          '/api/assessments',
          content({ items: [spokenItem(over)] }),
        );
      expect((await using(teacher, { promptRecordingId: recordingId })).body.fields).toEqual({
        'content.items.0.promptRecordingId': expect.stringContaining('not here yet'),
      });
      expect((await using(other, { promptRecordingId: recordingId })).status).toBe(200);
      const picture = blankStimulus(randomUUID(), 'picture', { recordingId });
      expect((await using(other, { stimuli: [picture] })).body.fields).toEqual({
        'content.items.0.stimuli.0': expect.stringContaining('not here yet'),
      });
    });

    it('copies an assessment with everything, under a title that says so', async () => {
      const { body } = await make(
        content({ title: '', closingWords: 'Até já.', tags: [{ code: '', words: 'can greet' }] }),
      );
      const copy = await teacher.ask<AssessmentDraft>('POST', `/api/assessments/${body.id}/copy`);
      expect(copy.body).toMatchObject({
        revision: 1,
        releases: 0,
        content: { ...body.content, title: 'Without a title, a copy' },
      });
      expect(copy.body.id).not.toBe(body.id);
      expect((await teacher.ask('POST', `/api/assessments/${randomUUID()}/copy`)).status).toBe(404);
    });

    it('tells the same teacher of another window, and a colleague by name', async () => {
      const { body } = await make(content());
      const save = (revision: number) =>
        teacher.ask<{ message: string; savedBy: string }>('PUT', `/api/assessments/${body.id}`, {
          revision,
          content: content(),
        });
      expect((await save(1)).body.savedBy).toContain('Name of');
      expect((await save(1)).body.message).toContain('in another window');
    });
  });

  describe('a shelf', () => {
    const shelf = async (find = '') =>
      (
        await teacher.ask<AssessmentDraft[]>('GET', `/api/assessments?find=${encodeURIComponent(find)}`)
      ).body.map(a => a.content.title);
    const away = async () => (await teacher.ask<AssessmentDraft[]>('GET', '/api/put-away')).body;
    const put = (id: string, to: string | null, who = teacher) =>
      who.ask<AssessmentDraft>('PUT', `/api/assessments/${id}/away`, { away: to });

    it('is looked through by title and prompt, whatever signs are typed', async () => {
      await make(
        content({ title: 'Évora, 100 % by train', items: [spokenItem({ promptText: 'O comboio_7' })] }),
      );
      expect(await shelf('evora')).toEqual(['Évora, 100 % by train']);
      expect(await shelf('COMBOIO_7')).toEqual(['Évora, 100 % by train']);
      expect(await shelf('100 %')).toEqual(['Évora, 100 % by train']);
      for (const nothing of ['1__ %', '%%', "' OR 1=1 --", '\\\\']) expect(await shelf(nothing)).toEqual([]);
    });

    it('lets go of what is put away, and finds it again; nothing released is thrown away', async () => {
      const { body: kept } = await make(content({ title: 'Last year’s' }));
      const { body: draft } = await make(content({ title: 'Only begun' }));
      const opened = await release(kept.id);
      expect((await put(kept.id, 'kept')).body).toMatchObject({ away: 'kept', awayAt: expect.any(String) });
      expect((await put(draft.id, 'thrown')).status).toBe(200);
      expect(await shelf()).not.toEqual(expect.arrayContaining(['Last year’s', 'Only begun']));
      expect((await away()).map(a => [a.content.title, a.away]).sort()).toEqual([
        ['Last year’s', 'kept'],
        ['Only begun', 'thrown'],
      ]);
      // What is released goes on, and what was thrown away is not released by an old page.
      expect((await teacher.ask('GET', `/api/releases/${opened.body.id}`)).status).toBe(200);
      expect((await release(draft.id)).body).toMatchObject({
        fields: { assessmentId: expect.stringContaining('thrown away') },
      });
      expect((await put(kept.id, 'thrown')).body).toMatchObject({ code: 'inUse' });
      await put(draft.id, null);
      expect(await shelf()).toContain('Only begun');
      expect((await release(draft.id)).status).toBe(200);
      // Released in between: the other window throws nothing away any more.
      expect((await put(draft.id, 'thrown')).body).toMatchObject({ code: 'inUse' });
      expect((await put(draft.id, 'somewhere')).status).toBe(422);
    });

    it('keeps what was thrown away for thirty days, and no longer; copies keep their sounds', async () => {
      const { body: draft } = await make(content({ title: 'To be forgotten' }));
      const recordingId = await prompt(teacher, draft.id);
      const items = [spokenItem({ promptRecordingId: recordingId })];
      await teacher.ask('PUT', `/api/assessments/${draft.id}`, {
        revision: draft.revision,
        content: content({ title: 'To be forgotten', items }),
      });
      // Released once, and taken back: its frozen version holds nothing up.
      const { body: taken } = await release(draft.id, {
        opensAt: new Date(Date.now() + 30_000).toISOString(),
      });
      expect((await teacher.ask('DELETE', `/api/releases/${taken.id}`)).status).toBeLessThan(300);
      const { body: copy } = await teacher.ask<AssessmentDraft>('POST', `/api/assessments/${draft.id}/copy`);
      await put(draft.id, 'thrown');
      const after = async (days: number) => {
        await t.ecoute.pool.query(
          'UPDATE assessments SET away_at = UTC_TIMESTAMP(3) - INTERVAL ? HOUR WHERE id = ?',
          [days * 24, draft.id],
        );
        await t.ecoute.jobs.sweep();
        return (await teacher.ask('GET', `/api/assessments/${draft.id}`)).status;
      };
      expect(await after(29.9)).toBe(200);
      expect(await after(30.1)).toBe(404);
      expect((await teacher.ask('GET', `/api/recordings/${recordingId}/sound`)).status).toBe(200);
      expect((await teacher.ask('GET', `/api/assessments/${copy.id}`)).status).toBe(200);
    });
  });

  it('finds again what was spoken for it, one’s own alone', async () => {
    const { body: draft } = await make(content());
    const [first, second] = [await prompt(teacher, draft.id), await prompt(teacher, draft.id)];
    const voices = (who: Visitor) =>
      who.ask<{ recordingId: string; durationMs: number }[]>('GET', `/api/assessments/${draft.id}/voices`);
    const { body } = await voices(teacher);
    expect(body.map(v => v.recordingId).sort()).toEqual([first, second].sort());
    expect(body[0]!.durationMs).toBeGreaterThan(1_000);
    expect((await voices(await t.person('teacher'))).status).toBe(404);
  });

  it('reckons a pass mark that is a share anew with the points', async () => {
    const scoring = { ...content().scoring, passMark: 99, passPercent: 60 };
    const { body } = await make(
      content({ items: [spokenItem({ points: 5 }), spokenItem({ points: 4 })], scoring }),
    );
    expect(body.content.scoring).toMatchObject({ passMark: 5.4, passPercent: 60 });
    const bad = await make(content({ scoring: { ...scoring, passPercent: 160 } }));
    expect(bad.body).toMatchObject({
      fields: { 'scoring.passPercent': 'A share to pass is at most 100 %.' },
    });
  });

  it('says words on the way to an item to students, and lets them hear them', async () => {
    const { body: draft } = await make(content());
    const recordingId = await prompt(teacher, draft.id);
    const voice = { recordingId, durationMs: 1, isVideo: false };
    const wordsBefore = { text: 'Half way. Breathe.', voice };
    await teacher.ask('PUT', `/api/assessments/${draft.id}`, {
      revision: draft.revision,
      content: content({
        items: [
          spokenItem({ promptText: 'One' }),
          spokenItem({ promptText: 'Two', startsBy: 'itself', prepareMs: 9_000, wordsBefore }),
        ],
      }),
    });
    const student = await t.person('student', [classId]);
    const { body: released } = await release(draft.id);
    const { body: sitting } = await student.ask<SittingView>('POST', `/api/releases/${released.id}/sitting`);
    const second = sitting.content.items[1]!;
    // What is asked waits for its clock; what is said on the way asks nothing.
    expect([second.promptText, second.wordsBefore?.text]).toEqual(['', 'Half way. Breathe.']);
    expect(second.wordsBefore!.voice!.durationMs).toBeGreaterThan(1_000);
    expect((await student.ask('GET', `/api/recordings/${recordingId}/sound`)).status).toBe(200);
    const other = await t.person('student');
    expect((await other.ask('GET', `/api/recordings/${recordingId}/sound`)).status).toBe(404);
  });
});
