import type { ReleaseEntry } from '@ecoute/contract/releases';
import { draftOf, standsWords, termsOf, usualDueTimes, usualTerms, type TermsDraft } from './terms';

const zone = 'Europe/Lisbon';
const noon = Date.UTC(2026, 10, 25, 12);
const draft = (over: Partial<TermsDraft> = {}): TermsDraft => ({ ...usualTerms(noon, zone), ...over });

describe('the terms of a release', () => {
  it('are due in a week at six, open at once, without anything to think about', () => {
    expect(termsOf(draft(), zone)).toEqual({
      terms: {
        dueAt: '2026-12-02T18:00:00.000Z',
        closesAt: null,
        lateAccepted: true,
        hidden: false,
        sittingsAllowed: 1,
        heardBy: 'nobody',
        scoresHeld: false,
        notify: false,
        note: '',
        timeZone: zone,
      },
      fields: {},
      remark: null,
    });
    expect(usualDueTimes(noon, zone)[0]).toEqual(['tomorrow', '2026-11-26T18:00']);
  });

  it('refuse a time that the clocks leave out, and say which one of two is meant', () => {
    const skipped = termsOf(draft({ dueWall: '2027-03-28T01:30' }), zone);
    expect(skipped.terms).toBeNull();
    expect(skipped.fields.dueAt).toContain('01:30 is left out');
    expect(skipped.fields.dueAt).toContain('02:30');
    const twice = termsOf(draft({ dueWall: '2027-10-31T01:30' }), zone);
    expect(twice.terms!.dueAt).toBe('2027-10-31T01:30:00.000Z');
    expect(twice.remark).toContain('comes twice');
  });

  it('say what is missing', () => {
    expect(termsOf(draft({ dueWall: '' }), zone).fields).toEqual({ dueAt: 'Say when it is due.' });
    expect(termsOf(draft({ opens: 'at', opensWall: '' }), zone).fields).toEqual({
      opensAt: 'Say when it opens.',
    });
    // A closing without late work means nothing.
    expect(termsOf(draft({ lateAccepted: false, closesWall: 'x' }), zone).terms!.closesAt).toBeNull();
  });

  it('come back from a release as they went in', () => {
    const wanted = draft({
      opens: 'at',
      opensWall: '2027-03-20T08:00',
      dueWall: '2027-03-29T18:00',
      closesWall: '2027-04-02T18:00',
      sittingsAllowed: 0,
      note: 'D major',
    });
    const { terms } = termsOf(wanted, zone);
    expect(draftOf({ ...terms, hidden: false } as ReleaseEntry, zone)).toEqual(wanted);
  });

  it('stand in words by the clock', () => {
    const release = {
      opensAt: '2026-11-20T08:00:00Z',
      dueAt: '2026-11-30T18:00:00Z',
      closesAt: null,
      lateAccepted: true,
      hidden: false,
    } as ReleaseEntry;
    const say = (over: Partial<ReleaseEntry>, at: string) =>
      standsWords({ ...release, ...over }, Date.parse(at), iso => iso.slice(5, 10));
    expect(say({}, '2026-11-19T00:00Z')).toBe('opens 11-20, due 11-30');
    expect(say({ hidden: true }, '2026-11-25T00:00Z')).toBe('hidden until you show it, due 11-30');
    expect(say({}, '2026-11-25T00:00Z')).toBe('open, due 11-30');
    expect(say({}, '2026-12-01T00:00Z')).toBe('was due 11-30, late work is taken');
    expect(say({ closesAt: '2026-12-03T00:00:00Z' }, '2026-12-01T00:00Z')).toContain('until 12-03');
    expect(say({ lateAccepted: false }, '2026-12-01T00:00Z')).toBe('closed, was due 11-30');
  });
});
