import { blankItem, blankMusic } from '@ecoute/contract/blank';
import { soundsAlong } from './soundsAlong';

describe('whether something sounds while the student is recorded', () => {
  const turn = { id: 't', recordingId: 'r', fromMs: 0, toMs: 500, gapMs: 1_000, says: '' };
  const metronome = { bpm: 90, beats: 4, countInBars: 1, heard: false };

  it('is so in conversations, with a beat, a drone or a backing track', () => {
    expect(soundsAlong(blankItem('a', 'exam', { isConversation: true, turns: [turn] }))).toBe(true);
    expect(soundsAlong(blankItem('a', 'exam', { music: blankMusic({ metronome }) }))).toBe(true);
    expect(soundsAlong(blankItem('a', 'exam', { music: blankMusic({ drone: 50 }) }))).toBe(true);
    const backing = { recordingId: 'b', durationMs: 9, isVideo: false };
    expect(soundsAlong(blankItem('a', 'exam', { music: blankMusic({ backing }) }))).toBe(true);
  });

  it('is not so in silence, or with a note that sounds before the take', () => {
    expect(soundsAlong(blankItem('a'))).toBe(false);
    expect(soundsAlong(blankItem('a', 'exam', { music: blankMusic({ startingNote: 60 }) }))).toBe(false);
    expect(soundsAlong(blankItem('a', 'exam', { isConversation: true, turns: [] }))).toBe(false);
  });
});
