import type { ReleaseEntry } from '@ecoute/contract/releases';
import { datesOf, planLike } from './placing';

const zone = 'Europe/Lisbon';

describe('a plan', () => {
  it('remembers how somebody planned last, but for the number of weeks', () => {
    const kept = JSON.stringify({ classId: 'c1', dueDays: 2, weeks: 5 });
    expect(planLike(undefined, zone, kept)).toMatchObject({
      classId: 'c1',
      dueDays: 2,
      weeks: 1,
      opensAt: '08:00',
    });
    expect(planLike(undefined, zone, '{broken')).toMatchObject({ dueDays: 6 });
  });

  it('goes on as a release was planned', () => {
    const like = {
      classId: 'c2',
      opensAt: '2027-03-22T09:30:00Z',
      dueAt: '2027-03-29T16:00:00Z',
      hidden: true,
      lateAccepted: false,
    } as ReleaseEntry;
    expect(planLike(like, zone, null)).toMatchObject({
      opensAt: '09:30',
      dueDays: 7,
      dueAt: '17:00',
      hidden: true,
      lateAccepted: false,
    });
  });

  it('means dates at the same hour, past holidays and over a change of the clocks', () => {
    const plan = { ...planLike(undefined, zone, null), weeks: 2 };
    const easter = { name: 'Easter', firstOn: '2027-03-29', lastOn: '2027-04-02' };
    expect(datesOf('2027-03-23', plan, [easter], zone)).toEqual([
      {
        day: '2027-03-23',
        leftOut: null,
        opensAt: '2027-03-23T08:00:00.000Z',
        dueAt: '2027-03-29T17:00:00.000Z',
      },
      expect.objectContaining({ day: '2027-03-30', leftOut: 'Easter' }),
      {
        day: '2027-04-06',
        leftOut: null,
        opensAt: '2027-04-06T07:00:00.000Z',
        dueAt: '2027-04-12T17:00:00.000Z',
      },
    ]);
  });
});
