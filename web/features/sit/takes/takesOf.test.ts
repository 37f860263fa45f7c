import type { RecordingView } from '@ecoute/contract/recordings';
import type { SittingView } from '@ecoute/contract/sittings';
import type { Delivery } from '../../../parts/recorder/delivery';
import { counting, takesOf, used } from './takesOf';
import { problemWords } from './problemWords';

const recording = (id: string, over: Partial<RecordingView> = {}): RecordingView => ({
  id,
  state: 'stored',
  gateMs: null,
  trim: null,
  problem: null,
  limitMs: 60_000,
  message: null,
  durationMs: 9_000,
  silent: false,
  medium: 'sound',
  details: null,
  fileName: null,
  sizeBytes: 1,
  sha256: 'x',
  cutShort: false,
  bytes: 1,
  length: null,
  quietMs: 0,
  ...over,
});
const sitting = (takes: [string, number, RecordingView][]): SittingView =>
  ({
    id: 's',
    now: new Date().toISOString(),
    takes: takes.map(([id, number, r]) => ({
      id,
      itemId: 'i',
      number,
      beganAt: '',
      chosenAt: null,
      missingMs: null,
      recording: r,
    })),
  }) as never;
const delivery = (id: string, over: Partial<Delivery> = {}): Delivery =>
  ({
    sound: { id, place: { sittingId: 's', itemId: 'i' }, beganAt: id, mediaType: 'audio/webm' },
    state: 'sending',
    bytes: 5,
    sent: 0,
    recording: null,
    message: null,
    ...over,
  }) as never;

describe('a student’s takes', () => {
  it('are not taken for refused while the server looks at them', () => {
    const looking = recording('new', { state: 'checking' });
    const [take] = takesOf('i', sitting([]), [delivery('new', { state: 'checking', recording: looking })]);
    expect(take).toMatchObject({ status: 'checking', stands: false });
    expect(used([take!]).used).toBe(1);
  });

  it('shows what is still only on this device after what the server knows', () => {
    const takes = takesOf('i', sitting([['a', 1, recording('a')]]), [
      delivery('b', { state: 'waitingForNetwork' }),
    ]);
    expect(takes.map(t => [t.id, t.number, t.status, t.local])).toEqual([
      ['a', 1, 'stored', false],
      ['b', 2, 'onItsWay', true],
    ]);
    expect(counting(takes)?.id).toBe('a');
    expect(used(takes).used).toBe(2);
  });

  it('believes what this page heard of a delivery before the list is fetched anew', () => {
    const takes = takesOf('i', sitting([['a', 1, recording('a', { state: 'arriving', durationMs: null })]]), [
      delivery('a', { state: 'delivered', recording: recording('a') }),
    ]);
    expect(takes).toHaveLength(1);
    expect(takes[0]).toMatchObject({ status: 'stored', durationMs: 9_000, stands: true });
  });

  it('believes the server of a take that it stored: it may have been cut since it was delivered', () => {
    const cut = recording('a', { durationMs: 4_000, trim: { fromMs: 1_000, toMs: 5_000, wholeMs: 9_000 } });
    const takes = takesOf('i', sitting([['a', 1, cut]]), [
      delivery('a', { state: 'delivered', recording: recording('a') }),
    ]);
    expect(takes[0]).toMatchObject({ durationMs: 4_000, wholeMs: 9_000 });
  });

  it('does not count a refused take against the allowance', () => {
    const takes = takesOf(
      'i',
      sitting([['a', 1, recording('a', { state: 'refused', message: 'too long' })]]),
      [],
    );
    expect(used(takes).used).toBe(0);
    expect(counting(takes)).toBeNull();
  });

  it('gives one back of which a part is missing, or in which nothing is heard', () => {
    const view = sitting([
      ['a', 1, recording('a', { silent: true })],
      ['b', 2, recording('b')],
    ]);
    expect(used(takesOf('i', view, []))).toEqual({ used: 1, isGivenBack: true });
    const torn = sitting([['a', 1, recording('a')]]);
    torn.takes[0]!.missingMs = 2_000;
    expect(used(takesOf('i', torn, []))).toEqual({ used: 0, isGivenBack: true });
  });
});

describe('what does not stand', () => {
  it('says what to do with it: a recording is made again, a file is chosen again', () => {
    const says = (over: Partial<RecordingView>) => problemWords(recording('r', over));
    expect(says({})).toBeNull();
    expect(says({ problem: 'tooLong', durationMs: 90_000 })).toMatch(/1:30.* 1:00.*Record it again/);
    expect(says({ problem: 'tooLong', durationMs: null, fileName: 'a.mp3' })).toMatch(
      /1:00.*Choose another file/,
    );
    for (const problem of ['empty', 'notAudio', 'noSound', 'noVideo', 'notWanted', 'damaged'] as const) {
      expect(says({ problem, fileName: 'a.mp3' })).toMatch(/Choose another file/);
      expect(says({ problem })).toMatch(/Record it again/);
    }
  });
});
