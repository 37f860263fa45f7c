import fc from 'fast-check';
import {
  ANSWERS,
  hasTakes,
  isRecorded,
  isRun,
  promptMs,
  readingMs,
  rulerStepMs,
  stretchAt,
  stripOf,
  type TimedItem,
} from './strip';

const item = (over: Partial<TimedItem> = {}): TimedItem => ({
  id: 'a',
  promptText: 'Say where you live.',
  promptDurationMs: null,
  prepareMs: 5_000,
  answerLimitMs: 30_000,
  answerBy: 'audio',
  isConversation: false,
  turns: [],
  ...over,
});

const items = fc.array(
  fc.record({
    id: fc.uuid(),
    promptText: fc.string(),
    promptDurationMs: fc.option(fc.integer({ min: 1, max: 60_000 })),
    prepareMs: fc.integer({ min: 0, max: 120_000 }),
    answerLimitMs: fc.integer({ min: 1_000, max: 600_000 }),
    answerBy: fc.constantFrom(...ANSWERS),
    isConversation: fc.boolean(),
    turns: fc.constant([]),
  }),
  { maxLength: 40 },
);

describe('a prompt that is only looked at', () => {
  it('takes a moment of its own', () => {
    const bare = { promptText: '', promptDurationMs: null };
    expect([promptMs(bare), promptMs({ ...bare, stimuli: [{}] })]).toEqual([0, 5_000]);
    expect(promptMs({ promptText: '', promptDurationMs: 900, stimuli: [{}] })).toBe(900);
  });
});

describe('the strip', () => {
  it('holds all turns of people who speak one after the other, and no time to prepare', () => {
    const turns = item({ together: { way: 'turns', most: 3, turnsEach: 2 } });
    const strip = stripOf([turns]);
    expect(strip.stretches.map(s => [s.kind, s.durationMs])).toEqual([
      ['prompt', 3_000],
      ['answer', 180_000],
    ]);
    expect(strip.listenMs).toBe(180_000);
    const one = stripOf([item({ together: { way: 'oneDevice', most: 3, turnsEach: 2 } })]);
    expect(one.listenMs).toBe(30_000);
  });

  it('lays prompt, prepare and answer end to end', () => {
    const strip = stripOf([item({ promptDurationMs: 4_000 }), item({ id: 'b', prepareMs: 0 })]);
    expect(strip.stretches.map(s => [s.itemId, s.kind, s.startMs, s.durationMs])).toEqual([
      ['a', 'prompt', 0, 4_000],
      ['a', 'prepare', 4_000, 5_000],
      ['a', 'answer', 9_000, 30_000],
      ['b', 'prompt', 39_000, 3_000],
      ['b', 'answer', 42_000, 30_000],
    ]);
    expect(strip.lengthMs).toBe(72_000);
    expect(strip.listenMs).toBe(60_000);
  });

  it('never leaves a gap, an overlap or an empty stretch', () => {
    fc.assert(
      fc.property(items, list => {
        const { stretches, lengthMs } = stripOf(list);
        let at = 0;
        for (const s of stretches) {
          expect(s.startMs).toBe(at);
          expect(s.durationMs).toBeGreaterThan(0);
          at += s.durationMs;
        }
        expect(lengthMs).toBe(at);
      }),
    );
  });

  it('finds the stretch under a position, ends excluded', () => {
    const strip = stripOf([item({ promptDurationMs: 4_000 })]);
    expect(stretchAt(strip, 0)?.kind).toBe('prompt');
    expect(stretchAt(strip, 3_999)?.kind).toBe('prompt');
    expect(stretchAt(strip, 4_000)?.kind).toBe('prepare');
    expect(stretchAt(strip, strip.lengthMs)).toBeNull();
    expect(stretchAt(strip, -1)).toBeNull();
  });

  it('gives text time to be read, also in scripts without spaces', () => {
    expect(readingMs('')).toBe(0);
    expect(readingMs('word '.repeat(150))).toBe(60_000);
    expect(readingMs('あ'.repeat(300))).toBe(60_000);
    expect(readingMs('Hello')).toBe(3_000);
  });

  it('chooses ruler steps that people count in', () => {
    expect(rulerStepMs(60_000, 8)).toBe(10_000);
    expect(rulerStepMs(600_000, 8)).toBe(120_000);
    expect(rulerStepMs(90_000_000, 8)).toBe(7_200_000);
  });

  it('shows a conversation turn by turn, and counts only its gaps as listening', () => {
    const turn = (fromMs: number, toMs: number, gapMs: number) => ({
      id: String(fromMs),
      recordingId: 'r',
      fromMs,
      toMs,
      gapMs,
    });
    const strip = stripOf([
      item({
        promptDurationMs: 4_000,
        isConversation: true,
        turns: [turn(0, 2_000, 10_000), turn(3_000, 4_500, 20_000), turn(5_000, 6_000, 0)],
      }),
    ]);
    expect(strip.stretches.map(s => [s.kind, s.durationMs])).toEqual([
      ['prompt', 4_000],
      ['prepare', 5_000],
      ['prompt', 2_000],
      ['answer', 10_000],
      ['prompt', 1_500],
      ['answer', 20_000],
      ['prompt', 1_000],
    ]);
    expect([strip.listenMs, strip.lengthMs]).toEqual([30_000, 43_500]);
  });

  it('leaves material without an answer and writing without listening', () => {
    const strip = stripOf([item({ answerBy: 'nothing' }), item({ id: 'b', answerBy: 'text' })]);
    expect(strip.stretches.map(s => [s.itemId, s.kind])).toEqual([
      ['a', 'prompt'],
      ['b', 'prompt'],
      ['b', 'prepare'],
      ['b', 'answer'],
    ]);
    expect(strip.listenMs).toBe(0);
  });
});

describe('ways of answering', () => {
  it('are listened to where they are recorded, and have takes where there is something to choose', () => {
    const recorded = ANSWERS.filter(isRecorded);
    expect(recorded).toEqual(['audio', 'video', 'screen']);
    expect(ANSWERS.filter(hasTakes)).toEqual([...recorded, 'file']);
    for (const answerBy of ANSWERS) {
      const strip = stripOf([item({ answerBy })]);
      expect(strip.listenMs).toBe(recorded.includes(answerBy as never) ? 30_000 : 0);
      expect(strip.stretches.some(s => s.kind === 'answer')).toBe(answerBy !== 'nothing');
    }
  });

  it('hold a conversation in sound alone', () => {
    const turns = [{ id: 't', recordingId: 'r', fromMs: 0, toMs: 1_000, gapMs: 4_000, says: '' }];
    for (const answerBy of ANSWERS)
      expect(isRun({ answerBy, isConversation: true, turns })).toBe(answerBy === 'audio');
    // Filmed, the turns do not count: the answer is in one piece.
    const filmed = stripOf([item({ answerBy: 'video', isConversation: true, turns })]);
    expect(filmed.stretches.filter(s => s.kind === 'answer')).toHaveLength(1);
    expect(filmed.listenMs).toBe(30_000);
  });
});
