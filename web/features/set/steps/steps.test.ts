import type { AssessmentContent } from '@ecoute/contract/assessments';
import { blankContent, blankItem } from '@ecoute/contract/blank';
import { duplicated, withItem, withoutItem, withStartingPoint } from '../draft';
import { canonical, MOST_STEPS, stepWords, withStep, type Step } from './steps';

const items = [1, 2, 3].map(n => blankItem(`i${n}`, 'homework', { promptText: `Prompt ${n}` }));
const start = blankContent('homework', { title: 'T', items });
const named = (next: (c: AssessmentContent) => AssessmentContent) => stepWords(start, next(start));

describe('steps', () => {
  it('are called by what was done', () => {
    const voice = { recordingId: 'r', durationMs: 1, isVideo: false };
    const criterion = { id: 'c', name: 'Flow', weight: 1, descriptors: [] };
    expect(
      [
        (c: AssessmentContent) => withoutItem(c, 'i2'),
        (c: AssessmentContent) => duplicated(c, 'i1'),
        (c: AssessmentContent) => ({ ...c, items: [...c.items].reverse() }),
        (c: AssessmentContent) => withItem(c, 'i3', { promptRecordingId: 'r' }),
        (c: AssessmentContent) => withItem(c, 'i3', { promptText: 'x' }),
        (c: AssessmentContent) => withItem(c, 'i1', { takesAllowed: 9 }),
        (c: AssessmentContent) => withItem(c, 'i1', { hintVoice: voice }),
        (c: AssessmentContent) => ({ ...c, items: c.items.map(i => ({ ...i, points: 9 })) }),
        (c: AssessmentContent) => withStartingPoint(c, 'exam'),
        (c: AssessmentContent) => ({
          ...c,
          scoring: { ...c.scoring, rubric: { levels: [], criteria: [criterion] } },
        }),
        (c: AssessmentContent) => ({ ...c, directionsVoice: voice }),
        (c: AssessmentContent) => ({ ...c, closingWords: 'x' }),
      ].map(named),
    ).toEqual([
      'item 2 taken out',
      'item 2 added',
      'an item moved',
      'the voice of item 3',
      'the words of item 3',
      'the settings of item 1',
      'the hint of item 1',
      '3 items changed',
      'the starting point',
      'the rubric',
      'the directions',
      'the whole sitting',
    ]);
  });

  it('are one for what is typed in one go, and one each for what comes or goes', () => {
    let content: AssessmentContent = start;
    let steps: readonly Step[] = [];
    let now = 0;
    const act = (after: AssessmentContent, afterMs: number) => {
      now += afterMs;
      steps = withStep(steps, content, after, now);
      content = after;
    };
    for (const words of ['a', 'ab', 'abc']) act(withItem(content, 'i1', { promptText: words }), 300);
    expect(steps).toHaveLength(1);
    expect(steps[0]!.before).toBe(start);
    act(withItem(content, 'i1', { promptText: 'abc, after a while' }), 5_000);
    act(withItem(content, 'i2', { promptText: 'elsewhere' }), 100);
    expect(steps.map(s => s.words)).toEqual([
      'the words of item 1',
      'the words of item 1',
      'the words of item 2',
    ]);
    // Two voices one after the other, as fast as can be: the first is found again.
    act(withItem(content, 'i2', { promptRecordingId: 'first' }), 100);
    act(withItem(content, 'i2', { promptRecordingId: 'second' }), 100);
    expect(steps).toHaveLength(5);
    expect(steps.at(-1)!.before.items[1]!.promptRecordingId).toBe('first');
    // Nothing done is no step.
    act({ ...content }, 100);
    expect(steps).toHaveLength(5);
    for (let n = 0; n < 2 * MOST_STEPS; n++) act(withItem(content, 'i3', { promptText: `${n}` }), 9_000);
    expect(steps).toHaveLength(MOST_STEPS);
  });

  it('know the same content, however its fields lie', () => {
    const { title, ...rest } = start;
    expect(canonical({ ...rest, title })).toBe(canonical(start));
    expect(canonical({ ...start, endTone: undefined } as AssessmentContent)).toBe(canonical(start));
    expect(canonical({ ...start, items: [...items].reverse() })).not.toBe(canonical(start));
    expect(canonical({ ...start, title: 'Another' })).not.toBe(canonical(start));
  });
});
