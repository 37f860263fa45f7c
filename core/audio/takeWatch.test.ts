import { TakeWatch } from './takeWatch';

const STEP_MS = 200;

/** What is said at each look of a take, by the level that each look finds. */
function said(levels: { peak: number; isMuted?: boolean }[], isCleaned = false) {
  const watch = new TakeWatch(0, isCleaned);
  return levels.map(({ peak, isMuted = false }, i) => watch.look({ peak, isMuted }, i * STEP_MS));
}
const looks = (seconds: number, peak: number, isMuted = false) =>
  Array.from({ length: (seconds * 1_000) / STEP_MS }, () => ({ peak, isMuted }));

describe('listening along while a take is recorded', () => {
  it('says that nothing is heard after four seconds, until something is', () => {
    const words = said([...looks(6, 0), ...looks(1, 0.1), ...looks(20, 0.0004)]);
    expect(words.slice(0, 20).every(w => w === null)).toBe(true);
    expect(words.slice(20, 30).every(w => w === 'nothing')).toBe(true);
    // From then on silence is a pause, however long.
    expect(words.slice(30).every(w => w === null)).toBe(true);
  });

  it('takes what a dead microphone gives for nothing, and a soft voice for something', () => {
    expect(said(looks(5, 0.002)).at(-1)).toBe('nothing');
    expect(said(looks(5, 0.01)).at(-1)).toBeNull();
  });

  it('says at once when the microphone is taken away in mid-take, and no longer when it is back', () => {
    const words = said([...looks(2, 0.2), ...looks(3, 0, true), ...looks(1, 0.2)]);
    expect(words.slice(0, 13).every(w => w === null)).toBe(true);
    expect(words[14]).toBe('muted');
    expect(words[24]).toBe('muted');
    expect(words.slice(25).every(w => w === null)).toBe(true);
  });

  it('knows a microphone that was cut off by its own switch: nothing comes any more, not even the room', () => {
    const words = said([...looks(2, 0.2), ...looks(4, 0), ...looks(1, 0.0004)]);
    expect(words.slice(0, 20).every(w => w === null)).toBe(true);
    expect(words.slice(20, 30).every(w => w === 'muted')).toBe(true);
    expect(words.slice(30).every(w => w === null)).toBe(true);
    // Where the browser takes the room away, a pause is as empty.
    expect(said([...looks(2, 0.2), ...looks(6, 0)], true).every(w => w === null)).toBe(true);
    expect(said([...looks(2, 0.2), ...looks(9, 0)], true).at(-1)).toBe('muted');
  });

  it('says what is distorted, not a single loud moment, and lets it be again', () => {
    expect(said([...looks(1, 0.3), { peak: 1 }, ...looks(1, 0.3)]).every(w => w === null)).toBe(true);
    const words = said([...looks(1, 1), ...looks(4, 0.3)]);
    expect(words.slice(0, 2)).toEqual([null, null]);
    expect(words[4]).toBe('clipped');
    expect(words.at(-1)).toBeNull();
  });
});
