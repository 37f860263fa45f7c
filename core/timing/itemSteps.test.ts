import { phaseAt, type ItemEvent, type ItemEventKind, type ItemPolicy } from './itemRun';
import {
  afterPrompt,
  isLeftBehind,
  isPromptCut,
  isTakenUp,
  nextStep,
  SET_MOST_MS,
  stillOwedMs,
  timeOfTake,
  type Running,
  type StepPolicy,
} from './itemSteps';

const exam: ItemPolicy & StepPolicy = {
  promptDurationMs: 5_000,
  prepareMs: 10_000,
  answerLimitMs: 20_000,
  shortestAnswerMs: 0,
  pauseAllowed: true,
  takesAllowed: 1,
  hearingsAllowed: 1,
  startsBy: 'itself',
};
const here: Running = { isLive: true, mayRecord: true, hasTake: false, promptEndsAtMs: null };

const events = (...list: [ItemEventKind, number][]): ItemEvent[] =>
  list.map(([kind, atMs]) => ({ kind, atMs }));
const next = (list: ItemEvent[], nowMs: number, running: Partial<Running> = {}, policy = exam) =>
  nextStep(policy, phaseAt(policy, list, nowMs), { ...here, ...running });

describe('what happens automatically', () => {
  const prompted = events(['promptBegan', 1_000], ['promptEnded', 6_000]);
  const preparing = [...prompted, ...events(['prepareBegan', 6_000])];
  const recording = [...preparing, ...events(['recordingBegan', 16_000])];

  it('is nothing before anything was begun', () => {
    expect(next([], 0)).toBeNull();
  });

  it('is the answer at the end of preparing, at its instant however late one looks', () => {
    expect(next(preparing, 7_000)).toEqual({ does: 'record', atMs: 16_000 });
    expect(next(preparing, 15_999)).toEqual({ does: 'record', atMs: 16_000 });
    expect(next(preparing, 30_000)).toEqual({ does: 'record', atMs: 0 });
  });

  it('is the answer right after a prompt whose end is known, and not before anybody knows it', () => {
    const direct = { ...exam, prepareMs: 0 };
    expect(next(events(['promptBegan', 1_000]), 3_000, { promptEndsAtMs: 6_004 }, direct)).toEqual({
      does: 'record',
      atMs: 6_004,
    });
    expect(next(events(['promptBegan', 1_000]), 3_000, {}, direct)).toBeNull();
    // With time to prepare, the end of the prompt begins that.
    expect(next(events(['promptBegan', 1_000]), 3_000, { promptEndsAtMs: 6_004 })).toBeNull();
  });

  it('is nothing where nobody set it going, without a microphone, or where the student begins', () => {
    for (const running of [{ isLive: false }, { mayRecord: false }]) {
      expect(next(preparing, 7_000, running)).toBeNull();
      expect(next(preparing, 30_000, running)).toBeNull();
    }
    expect(next(preparing, 30_000, {}, { ...exam, startsBy: 'student' })).toBeNull();
  });

  it('is the end of the answer at its limit, also when that is seen late', () => {
    expect(next(recording, 20_000, { hasTake: true })).toEqual({ does: 'stop', atMs: 36_000 });
    expect(next(recording, 40_000, { hasTake: true })).toEqual({ does: 'stop', atMs: 0 });
    // Whoever begins it: a limit is a limit.
    expect(next(recording, 20_000, { hasTake: true, isLive: false })).toEqual({ does: 'stop', atMs: 36_000 });
  });

  it('waits with a recording that is paused, and goes on with what is left', () => {
    const paused = [...recording, ...events(['recordingPaused', 20_000])];
    expect(next(paused, 90_000, { hasTake: true })).toBeNull();
    const resumed = [...paused, ...events(['recordingResumed', 90_000])];
    expect(next(resumed, 91_000, { hasTake: true })).toEqual({ does: 'stop', atMs: 106_000 });
  });

  it('never begins a second answer over the first', () => {
    const done = [...recording, ...events(['recordingEnded', 30_000])];
    expect(next(done, 31_000)).toBeNull();
  });
});

describe('a take whose time is over by the server’s clock', () => {
  const owed = (bySoundMs: number | null, byCountMs: number, overMs = 0) =>
    stillOwedMs(bySoundMs, byCountMs, { lateMs: 1_000, overMs });

  it('is over where it was counted to its end', () => {
    expect(owed(null, 0)).toBe(0);
    expect(owed(null, -200)).toBe(0);
    expect(owed(0, -200)).toBe(0);
  });

  it('goes on where a clock was set forward in its middle', () => {
    expect(owed(null, 3_800)).toBe(3_800);
    expect(owed(3_900, 3_800)).toBe(3_900);
  });

  it('waits for sound that is behind, as far as it may be longer than its limit', () => {
    expect(owed(700, -200)).toBe(700);
    expect(owed(3_000, -200)).toBe(800);
    // A sound that stands still is not waited for for ever.
    expect(owed(3_000, -1_000)).toBe(0);
  });

  it('gives nobody the time again in which their device slept', () => {
    expect(owed(null, 60_000)).toBe(SET_MOST_MS);
    expect(owed(null, 55_000, SET_MOST_MS)).toBe(0);
    expect(owed(60_000, 60_000, 2_000)).toBe(SET_MOST_MS - 2_000);
  });

  it('has ended when it was counted to, and by the server’s clock where the device slept', () => {
    expect(timeOfTake(100_000, 100_030)).toBe(100_000);
    expect(timeOfTake(100_000, 104_000)).toBe(100_000);
    expect(timeOfTake(100_000, 96_000)).toBe(100_000);
    expect(timeOfTake(100_000, 400_000)).toBe(400_000);
  });
});

describe('the end of a prompt', () => {
  it('leads to preparing, to the answer, or to the student’s word', () => {
    expect(afterPrompt(exam, 'prompt', true)).toBe('prepare');
    // By the clock it may have ended a moment before its last sample sounds.
    expect(afterPrompt(exam, 'heard', true)).toBe('prepare');
    expect(afterPrompt({ ...exam, prepareMs: 0 }, 'prompt', true)).toBe('record');
    expect(afterPrompt({ prepareMs: 0, startsBy: 'student' }, 'prompt', true)).toBeNull();
  });

  it('changes nothing where another page set it going, or when it is heard again later', () => {
    expect(afterPrompt(exam, 'prompt', false)).toBeNull();
    for (const phase of ['prepare', 'yourTurn', 'record', 'paused', 'review'] as const)
      expect(afterPrompt(exam, phase, true)).toBeNull();
  });
});

describe('a page that comes up', () => {
  it('ends a recording whose recorder went with the page before, and no other', () => {
    for (const phase of ['record', 'paused'] as const) {
      expect(isLeftBehind(phase, { hasTake: false })).toBe(true);
      expect(isLeftBehind(phase, { hasTake: true })).toBe(false);
    }
    for (const phase of ['ready', 'prompt', 'heard', 'prepare', 'yourTurn', 'review'] as const)
      expect(isLeftBehind(phase, { hasTake: false })).toBe(false);
  });

  it('takes up a countdown, and nothing that would record somebody unawares', () => {
    const phases = ['ready', 'prompt', 'heard', 'prepare', 'yourTurn', 'record', 'paused', 'review'] as const;
    expect(phases.filter(isTakenUp)).toEqual(['prepare']);
  });
});

describe('a prompt that was cut', () => {
  const cut = events(['promptBegan', 1_000], ['promptCut', 2_500]);
  it('is told from one that was heard, however late the page comes up', () => {
    expect(isPromptCut(events(['promptBegan', 1_000]))).toBe(true);
    expect(isPromptCut(events(['promptBegan', 1_000], ['hintOpened', 1_500]))).toBe(true);
    expect(isPromptCut(events(['promptBegan', 1_000], ['promptEnded', 6_000]))).toBe(false);
    expect(isPromptCut(events(['promptBegan', 1_000], ['promptEnded', 6_000], ['prepareBegan', 6_000]))).toBe(
      false,
    );
    // Of prompts that run into the answer the end is the answer's beginning.
    expect(isPromptCut(events(['recordingBegan', 6_000], ['promptBegan', 1_000]))).toBe(false);
    expect(isPromptCut(cut)).toBe(false);
    expect(isPromptCut([])).toBe(false);
  });

  it('is given back, and the item waits as before it', () => {
    expect(phaseAt(exam, cut, 3_000)).toMatchObject({ phase: 'ready', hearings: 0, hearingsLeft: 1 });
    // Also where the clock thought that it was heard by then.
    const late = events(['promptBegan', 1_000], ['promptCut', 30_000]);
    expect(phaseAt(exam, late, 30_000)).toMatchObject({ phase: 'ready', hearingsLeft: 1 });
  });

  it('is given back once', () => {
    const twice = [...cut, ...events(['promptBegan', 5_000], ['promptCut', 6_000])];
    // Nothing is left to hear; the item goes on from there.
    expect(phaseAt(exam, twice, 7_000)).toMatchObject({ phase: 'heard', hearings: 1, hearingsLeft: 0 });
  });

  it('while looking back at a take leaves the take', () => {
    const after = events(
      ['recordingBegan', 0],
      ['recordingEnded', 900],
      ['promptBegan', 1_000],
      ['promptCut', 2_000],
    );
    expect(phaseAt(exam, after, 3_000)).toMatchObject({ phase: 'review', hearings: 0 });
  });
});
