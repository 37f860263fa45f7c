import { BriefLanes, say, whole, type BriefView, type Said } from './briefLanes';

const amara = { sittingId: 's', studentId: 'p', studentName: 'Amara', studentCalled: 'Amara' };
const usual: Said = {
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
};
const said = {
  ...usual,
  notes: [{ id: 'n' }],
  late: true,
  takes: 0,
  title: 'The tide',
  placed: { clock: null, gateMs: 0 },
  used: { hearings: 0, hints: 2, readAlouds: 0 },
  state: 'marked',
  medium: null,
} as Said;
const take = { takeId: 't', durationMs: 900 };
const own = (fields: Said) => {
  const lane: Said & typeof take = { ...take };
  say(lane, fields);
  return lane;
};
const view = (lanes: BriefLanes) => ({ releaseId: 'r', title: 'T', ...lanes.all }) as unknown as BriefView;

describe('lanes, sent briefly', () => {
  it('leave out what is as usual, and nothing else', () => {
    expect(own(usual)).toEqual(take);
    expect(own(said)).toEqual({
      ...take,
      notes: [{ id: 'n' }],
      late: true,
      takes: 0,
      title: 'The tide',
      placed: { clock: null, gateMs: 0 },
      used: { hearings: 0, hints: 2, readAlouds: 0 },
      state: 'marked',
      medium: null,
    });
  });

  it('say once whose some are, and which item they answer', () => {
    const lanes = new BriefLanes();
    lanes.add(amara, 'i', take);
    lanes.add({ ...amara }, 'j', take);
    lanes.add({ ...amara, studentName: 'Amara, Ilse', studentCalled: null }, 'i', take);
    lanes.add({ ...amara, sittingId: 's2', studentId: 'p2' }, 'i', take);
    const sent = view(lanes);
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
    const lanes = new BriefLanes();
    lanes.add(amara, 'i', own(usual));
    lanes.add(amara, 'i', own(said));
    const back = whole(JSON.parse(JSON.stringify(view(lanes))) as BriefView);
    expect(back.title).toBe('T');
    expect(back).not.toHaveProperty('whose');
    expect(back.lanes[0]).toMatchObject({ ...amara, ...take, ...usual });
    expect(back.lanes[1]).toMatchObject({ ...amara, ...take, ...said });
    expect(back.lanes[0]).not.toHaveProperty('talk');
    // One lane is never changed by changing another: neither can be changed.
    expect(back.lanes.every(l => Object.isFrozen(l) && Object.isFrozen(l.marked))).toBe(true);
  });
});
