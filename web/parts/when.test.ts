import { localValue, when } from './when';

describe('instants as people say them', () => {
  const now = new Date(2026, 10, 24, 12, 0);
  const at = (day: number, hour: number) => new Date(2026, 10, day, hour, 30).toISOString();

  it('says yesterday, today and tomorrow by the calendar, not by 24 hours', () => {
    expect(when(at(24, 23), now)).toMatch(/^today .*30/);
    expect(when(at(25, 0), now)).toMatch(/^tomorrow /);
    expect(when(at(23, 23), now)).toMatch(/^yesterday /);
    expect(when(at(27, 10), now)).toMatch(/27/);
  });

  it('fills a field with a time that reads back as the same minute', () => {
    for (const d of [new Date(2026, 0, 5, 7, 9), new Date(2026, 11, 31, 23, 59)])
      expect(new Date(localValue(d)).getTime()).toBe(d.getTime());
  });
});
