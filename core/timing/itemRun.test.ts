import fc from 'fast-check';
import {
  answeredMs,
  countingTake,
  phaseAt,
  withinLimit,
  type ItemEvent,
  type ItemEventKind,
  type ItemPolicy,
} from './itemRun';

const policy: ItemPolicy = {
  promptDurationMs: 4_000,
  prepareMs: 10_000,
  answerLimitMs: 30_000,
  takesAllowed: 2,
  shortestAnswerMs: 0,
  pauseAllowed: false,
  hearingsAllowed: 0,
};
const run = (...events: [ItemEventKind, number][]): ItemEvent[] =>
  events.map(([kind, atMs]) => ({ kind, atMs }));

describe('an item being answered', () => {
  it('goes from prompt through preparing and recording to review', () => {
    expect(phaseAt(policy, [], 0)).toMatchObject({ phase: 'ready', mayRecord: true, takesLeft: 2 });
    const heard = run(['promptBegan', 0], ['promptEnded', 4_000]);
    expect(phaseAt(policy, heard, 1_000 - 1).phase).toBe('heard');
    const prepare = [...heard, ...run(['prepareBegan', 5_000])];
    expect(phaseAt(policy, prepare, 8_000)).toMatchObject({ phase: 'prepare', remainingMs: 7_000 });
    expect(phaseAt(policy, prepare, 15_000)).toMatchObject({ phase: 'yourTurn', remainingMs: null });
    const record = [...prepare, ...run(['recordingBegan', 15_000])];
    expect(phaseAt(policy, record, 20_000)).toMatchObject({
      phase: 'record',
      remainingMs: 25_000,
      mayRecord: false,
    });
    const review = [...record, ...run(['recordingEnded', 40_000])];
    expect(phaseAt(policy, review, 41_000)).toMatchObject({ phase: 'review', takesLeft: 1, mayRecord: true });
  });

  it('ends a recording at the limit by the clock, with or without word from the browser', () => {
    expect(phaseAt(policy, run(['recordingBegan', 0]), 29_999).phase).toBe('record');
    expect(phaseAt(policy, run(['recordingBegan', 0]), 30_000).phase).toBe('review');
  });

  it('does not give the time to prepare twice', () => {
    const twice = run(['prepareBegan', 0], ['prepareBegan', 9_000]);
    expect(phaseAt(policy, twice, 9_500).remainingMs).toBe(500);
  });

  it('lets a prompt be heard again in review without reopening the item', () => {
    const state = phaseAt(
      policy,
      run(['promptBegan', 0], ['recordingBegan', 5_000], ['recordingEnded', 9_000], ['promptBegan', 10_000]),
      11_000,
    );
    expect(state).toMatchObject({ phase: 'review', hearings: 2 });
  });

  it('counts takes and knows no limit where there is none', () => {
    const two = run(
      ['recordingBegan', 0],
      ['recordingEnded', 1],
      ['recordingBegan', 2],
      ['recordingEnded', 3],
    );
    expect(phaseAt(policy, two, 4)).toMatchObject({ takesLeft: 0, mayRecord: false });
    expect(phaseAt({ ...policy, takesAllowed: 0 }, two, 4)).toMatchObject({
      takesLeft: Infinity,
      mayRecord: true,
    });
  });

  it('is the same whatever order events arrive in, and time left never runs backwards', () => {
    const kinds: ItemEventKind[] = [
      'promptBegan',
      'promptEnded',
      'prepareBegan',
      'recordingBegan',
      'recordingPaused',
      'recordingResumed',
      'recordingEnded',
    ];
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.tuple(fc.constantFrom(...kinds), fc.integer({ min: 0, max: 90_000 })), {
          selector: ([, at]) => at,
          maxLength: 10,
        }),
        fc.integer({ min: 0, max: 120_000 }),
        fc.integer({ min: 0, max: 10_000 }),
        (list, now, later) => {
          const a = phaseAt(policy, run(...list), now);
          expect(phaseAt(policy, run(...[...list].reverse()), now)).toEqual(a);
          expect(a.remainingMs ?? 0).toBeGreaterThanOrEqual(0);
          const b = phaseAt(policy, run(...list), now + later);
          if (b.phase === a.phase && a.remainingMs !== null)
            expect(b.remainingMs).toBe(a.remainingMs - later);
        },
      ),
    );
  });

  it('knows which take counts', () => {
    const take = (number: number, chosenAtMs: number | null = null, stands = true) => ({
      id: `t${number}`,
      number,
      chosenAtMs,
      stands,
    });
    expect(countingTake([take(1), take(2)])?.id).toBe('t2');
    expect(countingTake([take(1, 5), take(2)])?.id).toBe('t1');
    expect(countingTake([take(1, 5), take(2, 9)])?.id).toBe('t2');
    expect(countingTake([take(1), take(2, null, false)])?.id).toBe('t1');
    expect(countingTake([])).toBeNull();
  });

  it('holds recordings to the limit with a little patience', () => {
    expect(withinLimit(31_400, 30_000)).toBe(true);
    expect(withinLimit(31_600, 30_000)).toBe(false);
  });

  it('counts of a recording what its gate let through and its device did not lose', () => {
    const between = { gateMs: 500, soundsUntilMs: 6_500 };
    const of = (...holes: [number, number][]) =>
      answeredMs({ ...between, holes: holes.map(([fromMs, toMs]) => ({ fromMs, toMs })) });
    expect(of()).toBe(6_000);
    expect(of([1_000, 2_000], [3_000, 3_200])).toBe(4_800);
    // Before the gate opened and after it shut nothing is lost.
    expect(of([0, 400], [200, 700], [6_000, 9_000], [7_000, 8_000])).toBe(5_300);
    expect(of([0, 9_000])).toBe(0);
  });

  it('holds the time of a recording that is paused, where pausing is allowed', () => {
    const pausing = { ...policy, pauseAllowed: true };
    const events = run(['recordingBegan', 0], ['recordingPaused', 10_000]);
    expect(phaseAt(pausing, events, 500_000)).toMatchObject({
      phase: 'paused',
      remainingMs: 20_000,
      recordedMs: 10_000,
      endsAtMs: null,
      mayRecord: false,
    });
    const again = [...events, ...run(['recordingResumed', 500_000])];
    expect(phaseAt(pausing, again, 505_000)).toMatchObject({
      phase: 'record',
      remainingMs: 15_000,
      recordedMs: 15_000,
    });
    expect(phaseAt(pausing, again, 520_000).phase).toBe('review');
    expect(
      phaseAt(
        pausing,
        [...again, ...run(['recordingPaused', 510_000], ['recordingEnded', 600_000])],
        600_001,
      ),
    ).toMatchObject({ phase: 'review', recordedMs: 0 });
    // Elsewhere a pause is no pause.
    expect(phaseAt(policy, events, 11_000)).toMatchObject({ phase: 'record', remainingMs: 19_000 });
  });

  it('does not reopen with a pause what the clock has ended', () => {
    const pausing = { ...policy, pauseAllowed: true };
    expect(
      phaseAt(
        pausing,
        run(['recordingBegan', 0], ['recordingPaused', 31_000], ['recordingResumed', 40_000]),
        41_000,
      ).phase,
    ).toBe('review');
  });

  it('lets a recording be stopped once it is long enough', () => {
    const longer = { ...policy, shortestAnswerMs: 10_000, pauseAllowed: true };
    expect(phaseAt(longer, run(['recordingBegan', 0]), 9_999).mayStop).toBe(false);
    expect(phaseAt(longer, run(['recordingBegan', 0]), 10_000).mayStop).toBe(true);
    expect(phaseAt(longer, run(['recordingBegan', 0], ['recordingPaused', 4_000]), 60_000).mayStop).toBe(
      false,
    );
  });

  it('counts hearings down to none', () => {
    const once = { ...policy, hearingsAllowed: 1 };
    expect(phaseAt(once, [], 0).hearingsLeft).toBe(1);
    expect(phaseAt(once, run(['promptBegan', 0]), 1).hearingsLeft).toBe(0);
    expect(phaseAt(policy, run(['promptBegan', 0]), 1).hearingsLeft).toBe(Infinity);
  });

  it('knows a pass until it is taken back, by word or by recording', () => {
    expect(phaseAt(policy, run(['passed', 0]), 1).passed).toBe(true);
    expect(phaseAt(policy, run(['passed', 0], ['passTakenBack', 1]), 2).passed).toBe(false);
    expect(phaseAt(policy, run(['passed', 0], ['recordingBegan', 1]), 2).passed).toBe(false);
    expect(phaseAt(policy, run(['hintOpened', 0], ['hintOpened', 1], ['studied', 2]), 3)).toMatchObject({
      hints: 2,
      studied: true,
    });
  });
});
