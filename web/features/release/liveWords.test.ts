import type { LiveView } from '@ecoute/contract/releases';
import { hearingsWords, liveWords } from './liveWords';

const live = (over: Partial<LiveView>): LiveView => ({
  itemNumber: 2,
  phase: 'record',
  sinceAt: '2026-11-25T12:00:00Z',
  here: true,
  ...over,
});

describe('what a student does', () => {
  it.each([
    [{}, 'is recording item 2'],
    [{ phase: 'prompt' as const }, 'hears the prompt of item 2'],
    [{ phase: 'prepare' as const }, 'prepares item 2'],
    [{ phase: 'review' as const }, 'has answered item 2'],
    [{ phase: 'heard' as const }, 'is at item 2'],
    [{ itemNumber: null, phase: null }, 'reads the directions'],
    [{ here: false }, 'away, was at item 2'],
  ])('%j is said as “%s”', (over, words) => expect(liveWords(live(over))).toBe(words));

  it('includes how often prompts were heard', () => {
    expect(hearingsWords({}, ['a', 'b'])).toBe('–');
    expect(hearingsWords({ a: 1, b: 1 }, ['a', 'b'])).toBe('2');
    expect(hearingsWords({ a: 1, b: 4 }, ['a', 'b'])).toBe('5, item 2 4 times');
  });
});
