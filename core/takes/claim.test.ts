import { claimOf, type Heard } from './claim';

const MIN = 60_000;
const began = { itemId: 'i', beganAtMs: 100 * MIN, sittingBeganAtMs: 90 * MIN };
const told = (over: Partial<Heard> = {}): Heard => ({
  kind: 'recordingBegan',
  itemId: 'i',
  atMs: began.beganAtMs,
  receivedMs: began.beganAtMs + 500,
  ...over,
});

describe('when a recording is said to have begun', () => {
  it('is known where the server is told at once, or heard of it at the time', () => {
    expect(claimOf(began, [], began.beganAtMs + 3_000)).toBe('known');
    expect(claimOf(began, [told()], began.beganAtMs + 60 * MIN)).toBe('known');
  });

  it('is only said where nothing was heard since: somebody was offline, or says so', () => {
    expect(claimOf(began, [], began.beganAtMs + 10_000)).toBe('said');
    // A witness that came with the recording itself is none.
    const late = began.beganAtMs + 60 * MIN;
    expect(claimOf(began, [told({ receivedMs: late - 1_000 })], late)).toBe('said');
    // One of another item neither.
    expect(claimOf(began, [told({ itemId: 'j' })], late)).toBe('said');
  });

  it('is contradicted where the browser was heard in between and told nothing of it', () => {
    const late = began.beganAtMs + 60 * MIN;
    const between = told({ kind: 'pageShown', itemId: null, receivedMs: began.beganAtMs + 20 * MIN });
    expect(claimOf(began, [between], late)).toBe('contradicted');
    // What comes in the first moments after the network is back is no contradiction.
    expect(claimOf(began, [{ ...between, receivedMs: late - 10_000 }], late)).toBe('said');
  });

  it('is contradicted before the sitting began, and in the future', () => {
    expect(claimOf({ ...began, beganAtMs: 80 * MIN }, [], 101 * MIN)).toBe('contradicted');
    expect(claimOf({ ...began, beganAtMs: 103 * MIN }, [], 101 * MIN)).toBe('contradicted');
  });
});
