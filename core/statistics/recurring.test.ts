import { recurringOf } from './recurring';

const said = (words: string, sittingId: string, day: number) => ({
  words,
  sittingId,
  at: `2026-11-${String(day).padStart(2, '0')}T09:00:00.000Z`,
});

describe('what is said again and again', () => {
  it('is found sentence by sentence, whatever name, time or sign stands in it', () => {
    const found = recurringOf(
      [
        said('Shorter pauses between the sentences, Amara. The nasal vowel is right.', 'a', 3),
        said('Good start. Shorter pauses between the sentences!', 'b', 10),
        said('At 0:12 the end of the word is gone.', 'b', 10),
        said('Amara, shorter pauses between the sentences', 'c', 17),
        said('At 1:04 the end of the word is gone.', 'c', 17),
      ],
      ['Amara', 'Amara Okonjo-Reyes'],
    );
    expect(found.map(r => [r.words, r.sittings, r.sittingIds])).toEqual([
      ['Amara, shorter pauses between the sentences', 3, ['a', 'b', 'c']],
      ['At 1:04 the end of the word is gone.', 2, ['b', 'c']],
    ]);
    expect(found[0]!.firstAt < found[0]!.lastAt).toBe(true);
  });

  it('is not what was said twice of one sitting, nor a word of praise', () => {
    expect(
      recurringOf(
        [said('Breathe before the upbeat.', 'a', 1), said('Breathe before the upbeat.', 'a', 1)],
        [],
      ),
    ).toEqual([]);
    expect(recurringOf([said('Good.', 'a', 1), said('Good.', 'b', 2)], [])).toEqual([]);
    expect(recurringOf([], ['x'])).toEqual([]);
  });
});
