import { blankStimulus } from '@ecoute/contract/blank';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { Delivery } from '../../../parts/recorder/delivery';
import { failed, progressOf, stands } from './brought';
import { shownAs, stimulusErrors } from './stimuli';

const recording = (over: Partial<RecordingView>): RecordingView => ({
  id: 'r',
  state: 'stored',
  gateMs: null,
  trim: null,
  problem: null,
  limitMs: 60_000,
  message: null,
  medium: 'picture',
  details: null,
  fileName: 'quay.png',
  durationMs: null,
  silent: false,
  sizeBytes: 9,
  cutShort: false,
  bytes: 1,
  length: null,
  quietMs: 0,
  sha256: 'x',
  ...over,
});
const delivery = (over: Partial<Delivery>): Delivery =>
  ({
    sound: { id: 'r' },
    state: 'sending',
    bytes: 200,
    sent: 0,
    recording: null,
    message: null,
    ...over,
  }) as never;

describe('what has been brought', () => {
  it('is shown as what the server found it to be', () => {
    expect(shownAs(recording({}))).toMatchObject({
      kind: 'picture',
      recordingId: 'r',
      part: '',
      startingNote: false,
    });
    expect(shownAs(recording({ medium: 'pages' }))).toMatchObject({ kind: 'pages', page: 0 });
    for (const medium of ['sound', 'video', 'file', null] as const)
      expect(shownAs(recording({ medium }))).toBeNull();
  });

  it('begins with the first of several parts, and with the only one without a choice', () => {
    const score = (...ids: string[]) => ({
      score: { title: '', measures: 4, parts: ids.map(id => ({ id, name: id, firstMidi: 60 })) },
    });
    const several = shownAs(recording({ medium: 'notation', details: score('P1', 'P2') }))!;
    expect(several).toMatchObject({ part: 'P1', startingNote: true, semitones: 0 });
    expect(shownAs(recording({ medium: 'notation', details: score('P1') }))!.part).toBe('');
    expect(several.id).not.toBe(shownAs(recording({ medium: 'notation', details: score('P1', 'P2') }))!.id);
  });

  it('says how far it is, or why it does not come', () => {
    expect(progressOf(delivery({ sent: 50 }))).toBe('Storing the file: 25 %');
    expect(progressOf(delivery({ bytes: 0 }))).toBe('Storing the file: 0 %');
    expect(progressOf(delivery({ state: 'checking' }))).toBe('Looking at the file …');
    const pages = recording({ state: 'checking', medium: 'pages', details: { pages: 12, pagesReady: 4 } });
    expect(progressOf(delivery({ state: 'checking', recording: pages }))).toBe('Drawing page 5 of 12 …');
    expect(progressOf(delivery({ state: 'kept', message: 'It asks for a password.' }))).toBe(
      'It asks for a password.',
    );
  });

  it('stands once the server holds it, and is over when it will not', () => {
    expect(stands(undefined)).toBe(false);
    expect(stands(delivery({ state: 'delivered', recording: recording({}) }))).toBe(true);
    expect(stands(delivery({ state: 'checking', recording: recording({}) }))).toBe(false);
    const refused = delivery({ state: 'delivered', recording: recording({ state: 'refused' }) });
    expect([stands(refused), failed(refused)]).toEqual([false, true]);
    expect(failed(delivery({ state: 'kept' }))).toBe(true);
    expect(failed(delivery({ state: 'waitingForNetwork' }))).toBe(false);
  });

  it('has its problems beside the thing they are about', () => {
    expect(
      stimulusErrors({
        'stimuli.0.url': 'An address …',
        'stimuli.11': 'Not here yet.',
        promptText: 'Too long.',
      }),
    ).toEqual({ 0: 'An address …', 11: 'Not here yet.' });
  });

  it('begins empty by its kind', () => {
    expect(blankStimulus('s', 'notation').startingNote).toBe(true);
    expect(blankStimulus('s', 'link', { url: 'https://a.example' })).toMatchObject({
      recordingId: null,
      url: 'https://a.example',
    });
  });
});
