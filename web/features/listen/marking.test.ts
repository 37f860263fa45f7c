import type { Mark, SaveMark } from '@ecoute/contract/marking';
import { pageShelf } from '../../base/kept/shelf';
import type { Refusal } from '../../base/refusal';
import { Marking, type MarkDraft } from './marking';

const PAUSE_MS = 900;
const AWAY: Refusal = { status: 0, code: 'away', message: 'Nobody answers.' };

/** The server's side of one mark. */
function serverWith(mark: Mark | null = null) {
  const server = {
    mark,
    saved: [] as SaveMark[],
    refuse: null as Refusal | null,
    save: async (wanted: SaveMark) => {
      server.saved.push(wanted);
      await Promise.resolve();
      if (server.refuse) throw server.refuse;
      if (wanted.revision !== (server.mark?.revision ?? 0))
        throw { status: 409, code: 'stale', message: 'Marked meanwhile.', current: server.mark } as Refusal;
      return (server.mark = markOf({
        points: wanted.points,
        comment: wanted.comment,
        choices: wanted.choices ?? [],
        finished: wanted.finished,
        reason: wanted.reason ?? '',
        revision: wanted.revision + 1,
      }));
    },
  };
  return server;
}

const markOf = (part: Partial<Mark>): Mark => ({
  revision: 1,
  points: null,
  comment: '',
  choices: [],
  finished: false,
  reason: '',
  authorName: 'Tobias',
  updatedAt: '',
  ...part,
});

const markingOn = (server: ReturnType<typeof serverWith>, shelf = pageShelf<MarkDraft>()) =>
  new Marking({
    mark: server.mark,
    save: server.save,
    carries: 5,
    scoring: { kind: 'points', rubric: null },
    shelf,
  });

const wait = (ms: number) => jest.advanceTimersByTimeAsync(ms);
const problemOf = (marking: Marking) => marking.problem(marking.kept.now());

describe('marking one lane', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());

  it('saves what is typed as unfinished, and finishes it by the revision that its own save made', async () => {
    const server = serverWith();
    const marking = markingOn(server);
    marking.change({ points: '3,5' });
    marking.change({ comment: 'Clear' });
    await wait(PAUSE_MS);
    expect(server.mark).toMatchObject({ points: 3.5, comment: 'Clear', finished: false, revision: 1 });
    marking.change({ points: '4' });
    expect(await marking.finish()).toBe(true);
    expect(server.mark).toMatchObject({ points: 4, finished: true, revision: 2 });
    expect(marking.isFinished).toBe(true);
  });

  it('goes on saying what misses, over its own saving, until it is there', async () => {
    const server = serverWith();
    const marking = markingOn(server);
    marking.change({ comment: 'Clear' });
    expect(marking.finish()).toBeNull();
    const message = 'Give points before you finish this answer.';
    await wait(PAUSE_MS);
    expect(server.mark).toMatchObject({ comment: 'Clear', finished: false });
    expect(problemOf(marking)).toEqual({ field: 'points', message });
    marking.change({ comment: 'Clear, and loud' });
    await wait(2 * PAUSE_MS);
    expect(server.mark).toMatchObject({ comment: 'Clear, and loud', finished: false });
    expect(problemOf(marking)).toEqual({ field: 'points', message });
    marking.change({ points: '4' });
    expect(problemOf(marking)).toBeNull();
    // Said when it is to be finished, and not before.
    marking.change({ points: '' });
    expect(problemOf(marking)).toBeNull();
  });

  it('names the criteria that have no level, once it was to be finished without them', () => {
    const rubric = {
      levels: [
        { name: 'Not yet', points: 0 },
        { name: 'Good', points: 1 },
      ],
      criteria: ['Flow', 'Sounds'].map(name => ({ id: name, name, weight: 1, descriptors: ['', ''] })),
    };
    const marking = new Marking({
      mark: null,
      save: serverWith().save,
      carries: 5,
      scoring: { kind: 'rubric', rubric },
      shelf: pageShelf<MarkDraft>(),
    });
    marking.change({ choices: [{ criterionId: 'Flow', level: 1 }] });
    expect(marking.missing(marking.kept.now().value)).toEqual([]);
    expect(marking.finish()).toBeNull();
    expect(marking.missing(marking.kept.now().value)).toEqual(['Sounds']);
    expect(problemOf(marking)!.message).toContain('Choose a level for “Sounds”');
  });

  it('takes a finishing back, with what was typed', async () => {
    const server = serverWith();
    const marking = markingOn(server);
    marking.change({ points: '4', comment: 'Clear' });
    // While it is on its way as well.
    void marking.finish();
    expect(await marking.takeBack()).toBeNull();
    expect(server.mark).toMatchObject({ points: 4, comment: 'Clear', finished: false, revision: 2 });
    expect(marking.isFinished).toBe(false);
    marking.change({ points: '3' });
    await wait(PAUSE_MS);
    expect(server.mark).toMatchObject({ points: 3, finished: false, revision: 3 });
    // Refused, it stays as it was, and nothing is left to be sent.
    await marking.finish();
    server.refuse = { status: 409, code: 'decidedOtherwise', message: 'This is finished and counts.' };
    expect(await marking.takeBack()).toBe('This is finished and counts.');
    expect([marking.isFinished, marking.kept.isUnsent]).toEqual([true, false]);
  });

  it('takes back what could not be sent yet: it arrives unfinished', async () => {
    const server = serverWith();
    const marking = markingOn(server);
    marking.change({ points: '4' });
    server.refuse = AWAY;
    await marking.finish();
    expect(await marking.takeBack()).toBeNull();
    server.refuse = null;
    await wait(PAUSE_MS);
    expect(server.mark).toMatchObject({ points: 4, finished: false });
  });

  it('says at once what stands in the way of finishing, and asks nobody', async () => {
    const server = serverWith();
    const marking = markingOn(server);
    expect(marking.finish()).toBeNull();
    await wait(0);
    expect(problemOf(marking)).toMatchObject({ field: 'points' });
    marking.change({ points: 'four' });
    expect(problemOf(marking)).toEqual({ field: 'points', message: 'Type points such as 4 or 2.5.' });
    await wait(PAUSE_MS);
    expect(server.saved).toEqual([]);
    marking.change({ points: '4' });
    expect(problemOf(marking)).toBeNull();
  });

  it('changes a finished mark only by finishing again, with a reason that explains this change alone', async () => {
    const server = serverWith(markOf({ points: 4, finished: true }));
    const marking = markingOn(server);
    marking.change({ points: '2' });
    await wait(10 * PAUSE_MS);
    marking.kept.nudge();
    await wait(0);
    expect(server.saved).toEqual([]);
    expect(marking.asked(marking.kept.now().value)).not.toBeNull();
    expect(marking.finish()).toBeNull();
    await wait(0);
    expect(problemOf(marking)).toMatchObject({ field: 'reason' });
    marking.change({ reason: 'Heard again' });
    expect(await marking.finish()).toBe(true);
    expect(server.mark).toMatchObject({ points: 2, reason: 'Heard again', finished: true });
    expect(marking.kept.now().value.reason).toBe('');
    marking.change({ points: '3' });
    expect(marking.finish()).toBeNull();
  });

  it('shows a colleague’s mark where nothing was typed, and says it where something was', async () => {
    const server = serverWith();
    const marking = markingOn(server);
    server.mark = markOf({ points: 3, comment: 'Fine', finished: true });
    marking.offer(server.mark);
    expect(marking.kept.now().value).toMatchObject({ points: '3', comment: 'Fine' });
    expect(marking.isFinished).toBe(true);

    const other = serverWith();
    const mine = markingOn(other);
    mine.change({ points: '1' });
    other.mark = markOf({ points: 3, comment: 'Fine' });
    mine.offer(other.mark);
    await wait(PAUSE_MS);
    expect(problemOf(mine)!.message).toContain('Tobias has marked this meanwhile: 3 points, “Fine”');
    expect(mine.kept.now().value.points).toBe('1');
    expect(other.mark).toMatchObject({ points: 3 });
    expect(await mine.finish()).toBe(true);
    expect(other.mark).toMatchObject({ points: 1, finished: true });
  });

  it('finishes later what nobody answered, unless something else is typed', async () => {
    const server = serverWith();
    const marking = markingOn(server);
    server.refuse = AWAY;
    marking.change({ points: '5' });
    expect(await marking.finish()).toBe(false);
    expect(problemOf(marking)!.message).toBe(AWAY.message);
    server.refuse = null;
    await wait(4_000);
    expect(server.mark).toMatchObject({ points: 5, finished: true });

    server.refuse = AWAY;
    marking.change({ points: '4', reason: 'Slipped' });
    await marking.finish();
    marking.change({ comment: 'Wait' });
    server.refuse = null;
    await wait(20_000);
    expect(server.mark).toMatchObject({ points: 5, comment: '' });
  });
});
