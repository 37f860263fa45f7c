import type { NumbersAnswer } from '@ecoute/contract/results';
import { answerRows, sorted } from './answerTable';

const answer = (sittingId: string, over: Partial<NumbersAnswer> = {}): NumbersAnswer => ({
  sittingId,
  itemId: 'i',
  takeId: `take-${sittingId}`,
  durationMs: 1_000,
  points: null,
  passed: false,
  written: false,
  levels: [],
  takes: 1,
  hearings: 1,
  handedInAt: '2026-11-03T09:00:00.000Z',
  ...over,
});
const numbers = {
  sittings: ['Chiyo', 'Amara', 'Bram'].map((studentName, n) => ({
    id: String(n),
    studentName,
  })),
  answers: [
    answer('0', { points: 3 }),
    answer('1', { points: 8, takeId: null, durationMs: null }),
    answer('2'),
    answer('2', { itemId: 'j' }),
  ],
};
const measured = {
  'take-0': { figures: { pauseCount: 4 }, pauses: [] },
  'take-2': { figures: { pauseCount: 1 }, pauses: [] },
};
const names = (sort: Parameters<typeof sorted>[1], down = false) =>
  sorted(answerRows(numbers, 'i', 'pauseCount', measured, null), sort, down).map(r => r.studentName);

describe('all answers of an item', () => {
  it('lie by name, score, or any figure; what has none is last whichever way', () => {
    expect(names('name')).toEqual(['Amara', 'Bram', 'Chiyo']);
    expect(names('points', true)).toEqual(['Amara', 'Chiyo', 'Bram']);
    expect(names('points')).toEqual(['Chiyo', 'Amara', 'Bram']);
    expect(names('pauseCount')).toEqual(['Bram', 'Chiyo', 'Amara']);
    expect(names('length')).toEqual(['Bram', 'Chiyo', 'Amara']);
  });

  it('are only those of a bar that was pressed', () => {
    const rows = answerRows(numbers, 'i', null, measured, new Set(['2']));
    expect(rows.map(r => [r.studentName, r.figure])).toEqual([['Bram', null]]);
  });
});
