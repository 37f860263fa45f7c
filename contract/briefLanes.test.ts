import { brief, whole } from './briefLanes';
import type { Lane, ListenView } from './marking';

/** What each lane says for itself. */
const whose = {
  sittingId: 's',
  studentId: 'p',
  studentName: 'Amara',
  studentCalled: 'Amara',
  itemId: 'i',
  takeId: 't',
  durationMs: 900,
};
const usual = {
  ...whose,
  notes: [],
  marked: [],
  late: false,
  again: null,
  takes: 1,
  title: '',
  placed: { clock: null, gateMs: null },
  used: { hearings: 0, hints: 0, readAlouds: 0 },
  mark: null,
  state: 'handedIn',
} as unknown as Lane;
const said = {
  ...usual,
  studentId: null,
  notes: [{ id: 'n' }],
  late: true,
  takes: 0,
  title: 'The tide',
  placed: { clock: null, gateMs: 0 },
  used: { hearings: 0, hints: 2, readAlouds: 0 },
  state: 'marked',
  medium: null,
  talk: { contributions: [] },
} as unknown as Lane;
const view = (...lanes: Lane[]) => ({ releaseId: 'r', title: 'T', lanes }) as unknown as ListenView;

describe('lanes, sent briefly', () => {
  it('leave out what is as usual, and nothing else', () => {
    expect(brief(view(usual)).lanes).toEqual([[0, 0, { takeId: 't', durationMs: 900 }]]);
    expect(brief(view(said)).lanes[0]![2]).toEqual({
      takeId: 't',
      durationMs: 900,
      notes: [{ id: 'n' }],
      late: true,
      takes: 0,
      title: 'The tide',
      placed: { clock: null, gateMs: 0 },
      used: { hearings: 0, hints: 2, readAlouds: 0 },
      state: 'marked',
      medium: null,
      talk: { contributions: [] },
    });
  });

  it('say once whose some are, and which item they answer', () => {
    const second = { ...usual, itemId: 'j' };
    const withIlse = { ...usual, studentName: 'Amara, Ilse', studentCalled: null };
    const others = { ...usual, sittingId: 's2', studentId: 'p2' };
    const sent = brief(view(usual, second, withIlse, others));
    expect(sent.whose).toHaveLength(3);
    expect(sent.itemIds).toEqual(['i', 'j']);
    expect(sent.lanes.map(([of, item]) => [of, item])).toEqual([
      [0, 0],
      [0, 1],
      [1, 0],
      [2, 0],
    ]);
    expect(whole(sent).lanes.map(l => [l.sittingId, l.studentName, l.studentCalled, l.itemId])).toEqual([
      ['s', 'Amara', 'Amara', 'i'],
      ['s', 'Amara', 'Amara', 'j'],
      ['s', 'Amara, Ilse', null, 'i'],
      ['s2', 'Amara', 'Amara', 'i'],
    ]);
  });

  it('come back as they were, whatever they say', () => {
    const sent = JSON.parse(JSON.stringify(brief(view(usual, said)))) as ReturnType<typeof brief>;
    const back = whole(sent);
    expect(back.title).toBe('T');
    expect(back).not.toHaveProperty('whose');
    expect(back.lanes[0]).toMatchObject(usual);
    expect(back.lanes[1]).toMatchObject(said);
    expect(back.lanes[0]).not.toHaveProperty('talk');
    // One lane is never changed by changing another: neither can be changed.
    expect(back.lanes.every(l => Object.isFrozen(l) && Object.isFrozen(l.marked))).toBe(true);
  });
});
