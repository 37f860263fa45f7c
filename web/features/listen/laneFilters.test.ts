import type { Lane } from '@ecoute/contract/marking';
import { filtersOf, isAmong, narrowedIn, passes, waitsForReply } from './laneFilters';

const lane = (over: Partial<Lane>) =>
  ({
    sittingId: 's1',
    state: 'handedIn',
    takeId: 't',
    written: null,
    mark: null,
    late: false,
    askedAgain: false,
    replies: [],
    ...over,
  }) as unknown as Lane;
const said = (...fromStudent: boolean[]) => fromStudent.map(f => ({ fromStudent: f })) as Lane['replies'];

describe('filters of lanes', () => {
  it('count students, not lanes, and leave out what finds nobody', () => {
    const lanes = [
      lane({}),
      lane({ late: true }),
      lane({ sittingId: 's2', state: 'feedbackGiven', mark: { finished: true } as Lane['mark'] }),
      lane({ sittingId: 's3', state: 'underWay' }),
    ];
    expect(filtersOf(lanes).map(f => [f.filter, f.sittings])).toEqual([
      ['all', 3],
      ['waiting', 1],
      ['late', 1],
      ['underWay', 1],
      ['feedbackGiven', 1],
    ]);
  });

  it('take what is answered for feedback given too, and what is under way or asked for again for nobody’s work', () => {
    expect(passes(lane({ state: 'answered' }), 'feedbackGiven')).toBe(true);
    expect(passes(lane({ state: 'underWay' }), 'waiting')).toBe(false);
    expect(passes(lane({ askedAgain: true }), 'waiting')).toBe(false);
  });

  it('hold together, and with a name as it is typed; an address keeps them', () => {
    const late = lane({ late: true, studentName: 'Inês Caldeira' });
    const marked = lane({ late: true, studentName: 'Inês Rocha', mark: { finished: true } as Lane['mark'] });
    const found = (address: string) =>
      [late, marked].filter(l => isAmong(l, narrowedIn(new URLSearchParams(address))));
    expect(found('')).toEqual([late, marked]);
    expect(found('show=late')).toEqual([late, marked]);
    expect(found('show=late+waiting')).toEqual([late]);
    expect(found('who=INES+r')).toEqual([marked]);
    expect(found('who=nobody')).toEqual([]);
    // What an address of another time says beside these finds everybody.
    expect(found('show=late+brilliant')).toEqual([late, marked]);
  });

  it('know whose the last word is', () => {
    expect(waitsForReply(lane({ replies: said(true) }))).toBe(true);
    expect(waitsForReply(lane({ replies: said(true, false) }))).toBe(false);
    expect(waitsForReply(lane({}))).toBe(false);
  });
});
