import { followedTo, isLonger, moreOf, turned, type Line } from './pages';

/** Twenty lines of music, 90 px each with 10 px between them. */
const lines: Line[] = Array.from({ length: 20 }, (_, i) => ({ top: i * 100 + 5, bottom: i * 100 + 95 }));
const WHOLE = 2000;

test('what fits is not turned', () => {
  expect(isLonger({ top: 0, height: 600, whole: 600 })).toBe(false);
  expect(isLonger({ top: 0, height: 600, whole: 601 })).toBe(false);
  expect(isLonger({ top: 0, height: 600, whole: 700 })).toBe(true);
});

test.each([334, 480, 610, 740])(
  'in a window of %i px every line is whole on some page, and in order',
  height => {
    let top = 0;
    const seen = new Set<number>();
    const tops = [top];
    for (let turns = 0; turns < 40; turns++) {
      lines.forEach((l, i) => {
        if (l.top >= top && l.bottom <= top + height) seen.add(i);
      });
      const next = turned({ top, height, whole: WHOLE }, lines, 1);
      if (next === top) break;
      expect(next).toBeGreaterThan(top);
      top = next;
      tops.push(top);
    }
    expect(seen.size).toBe(20);
    expect(moreOf({ top, height, whole: WHOLE })).toEqual({ before: true, after: false });
    // And back, in as many turns at most and one, to the beginning.
    let turnsBack = 0;
    while (top > 0 && turnsBack < 40) {
      const before = turned({ top, height, whole: WHOLE }, lines, -1);
      expect(before).toBeLessThan(top);
      expect(top - before).toBeLessThanOrEqual(height);
      top = before;
      turnsBack++;
    }
    expect(top).toBe(0);
    expect(turnsBack).toBeLessThanOrEqual(tops.length);
  },
);

test('words go on with the last lines of the page before', () => {
  const view = { top: 0, height: 600, whole: 1500 };
  expect(turned(view, [], 1)).toBe(536);
  expect(turned({ ...view, top: 536 }, [], 1)).toBe(900);
  expect(turned({ ...view, top: 900 }, [], -1)).toBe(364);
});

test('a line higher than the window is gone through without a gap', () => {
  const tall: Line[] = [{ top: 0, bottom: 1000 }];
  const view = { top: 0, height: 300, whole: 1000 };
  const next = turned(view, tall, 1);
  expect(next).toBeGreaterThan(0);
  expect(next).toBeLessThanOrEqual(300);
});

describe('a text that goes along with its reader', () => {
  const whole = 3_000;
  const height = 300;

  it('stays until a third of what is in sight is read, then keeps the reader there, and ends at its end', () => {
    let read: number | null = null;
    let top = 0;
    const tops: number[] = [];
    for (let n = 0; n < 400; n++) {
      const next = followedTo({ top, height, whole }, read, 10);
      [read, top] = [next.readPx, next.top];
      tops.push(top);
    }
    expect(tops.slice(0, 10)).toEqual(Array.from({ length: 10 }, () => 0));
    expect(tops[10]).toBe(10);
    expect(tops[100]! - tops[99]!).toBe(10);
    expect(top).toBe(whole - height);
  });

  it('goes on from where somebody put it, and never back', () => {
    expect(followedTo({ top: 600, height, whole }, null, 10)).toEqual({ readPx: 710, top: 610 });
    expect(followedTo({ top: 600, height, whole }, 100, 10).top).toBe(600);
  });
});
