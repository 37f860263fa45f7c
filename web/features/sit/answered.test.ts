import type { SittingView } from '@ecoute/contract/sittings';
import type { Delivery } from '../../parts/recorder/delivery';
import { answeredIds, notTakenIds } from './answered';
import type { Account } from './useAccount';

const account = { ofItem: () => [] } as unknown as Account;
const recording = (state: string) => ({
  id: 'take',
  state,
  problem: null,
  message: null,
  durationMs: 2_000,
  silent: false,
  medium: 'sound',
  fileName: null,
  trim: null,
  gateMs: null,
  cutShort: false,
  bytes: 5,
  length: null,
  quietMs: 0,
});
const sitting = (state: string | null, openItemIds: string[] | null = null): SittingView =>
  ({
    id: 's',
    now: new Date().toISOString(),
    openItemIds,
    written: [],
    content: {
      items: [{ id: 'i', answerBy: 'audio', prepareMs: 0, answerLimitMs: 9_000, hearingsAllowed: 0 }],
    },
    takes:
      state === null
        ? []
        : [
            {
              id: 'take',
              itemId: 'i',
              number: 1,
              beganAt: '',
              chosenAt: null,
              missingMs: null,
              recording: recording(state),
            },
          ],
  }) as never;
const kept = [
  {
    sound: {
      id: 'take',
      place: { sittingId: 's', itemId: 'i' },
      beganAt: '',
      mediaType: 'audio/webm',
      ended: true,
    },
    state: 'kept',
    bytes: 5,
    sent: 0,
    recording: null,
    message: 'Not taken.',
  },
] as unknown as Delivery[];

test('a take that the server knows of is an answer, also before this page has taken it up', () => {
  expect(answeredIds(sitting(null), [], account).size).toBe(0);
  for (const state of ['arriving', 'checking', 'stored'])
    expect([state, answeredIds(sitting(state), [], account).size]).toEqual([state, 1]);
  expect(answeredIds(sitting('refused'), [], account).size).toBe(0);
});

test('what the server did not take is told from an answer; what stands from before is not asked about', () => {
  expect(notTakenIds(sitting(null), kept)).toEqual(new Set(['i']));
  expect(notTakenIds(sitting('stored'), []).size).toBe(0);
  expect(notTakenIds(sitting(null), []).size).toBe(0);
  expect(notTakenIds(sitting(null, []), kept).size).toBe(0);
});
