import { HALF_AGAIN, ORDINARY } from './arrangements';
import { timeUpAt, withinSitting } from './sittingClock';

describe('the clock of a whole sitting', () => {
  it('runs from the first sight of the items, and only where there is a limit', () => {
    expect(timeUpAt(null, 600_000, ORDINARY)).toBeNull();
    expect(timeUpAt(1_000, null, ORDINARY)).toBeNull();
    expect(timeUpAt(1_000, 600_000, ORDINARY)).toBe(601_000);
    expect(timeUpAt(1_000, 600_000, HALF_AGAIN)).toBe(901_000);
  });

  it('takes what began in time', () => {
    expect(withinSitting(5, null)).toBe(true);
    expect(withinSitting(5, 5)).toBe(true);
    expect(withinSitting(6, 5)).toBe(false);
  });
});
