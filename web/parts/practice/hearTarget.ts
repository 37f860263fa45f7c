/** A score as it should sound, played by the browser in plain tones. */
import { hzOfMidi } from '@ecoute/core/formats/musicXml';
import { isSeveral, playedScore, type ScoreNote } from '@ecoute/core/formats/scoreNotes';
import type { Stimulus } from '@ecoute/contract/stimuli';

const UNMARKED_BPM = 88;
const LEAD_SEC = 0.15;
const FADE_SEC = 0.04;
const GAIN = 0.22;
/** Where several sound at once, each is softer. */
const GAIN_OF_SEVERAL = 0.1;
/** Falling partials: easier to sing to than a bare sine. */
const PARTIALS = [0, 1, 0.4, 0.22, 0.12, 0.06];

/** When each note sounds, in seconds from the beginning of the first. */
export function timesOf(
  notes: readonly ScoreNote[],
  bpm: number,
): { midi: number; startSec: number; endSec: number }[] {
  const first = notes[0]?.startQuarters ?? 0;
  const sec = (quarters: number) => ((quarters - first) * 60) / bpm;
  return notes.map(n => ({
    midi: n.midi,
    startSec: sec(n.startQuarters),
    // Let go a little early, so that repeated notes are heard as two.
    endSec: Math.max(sec(n.startQuarters) + 0.06, sec(n.startQuarters + n.quarters) - FADE_SEC),
  }));
}

/**
 * Plays the target of an item.
 * @param bpm the tempo that the item asks for; the score's own where it asks for none
 * @param onEnd called once, when it is over or was stopped
 * @returns what stops it
 * @throws Error when the score cannot be fetched or has no notes
 */
export async function playTarget(
  target: Pick<Stimulus, 'recordingId' | 'part' | 'semitones'>,
  bpm: number | null,
  onEnd: () => void,
): Promise<() => void> {
  const response = await fetch(`/api/recordings/${target.recordingId}/shown`);
  if (!response.ok) throw new Error(`HTTP ${response.status}`);
  const score = playedScore(await response.text(), target.part, target.semitones);
  const times = timesOf(score.all, bpm ?? score.bpm ?? UNMARKED_BPM);
  if (times.length === 0) throw new Error('The score has no notes.');
  const loud = isSeveral(score) ? GAIN_OF_SEVERAL : GAIN;
  const lastEndSec = Math.max(...times.map(n => n.endSec));
  const context = new AudioContext();
  await context.resume();
  const wave = context.createPeriodicWave(new Float32Array(PARTIALS.length), Float32Array.from(PARTIALS));
  const zero = context.currentTime + LEAD_SEC;
  for (const { midi, startSec, endSec } of times) {
    const tone = new OscillatorNode(context, { frequency: hzOfMidi(midi) });
    tone.setPeriodicWave(wave);
    const gain = new GainNode(context, { gain: 0 });
    gain.gain.setValueAtTime(0, zero + startSec);
    gain.gain.linearRampToValueAtTime(loud, zero + startSec + 0.025);
    gain.gain.setValueAtTime(loud, zero + Math.max(startSec + 0.03, endSec - FADE_SEC));
    gain.gain.linearRampToValueAtTime(0, zero + endSec);
    tone.connect(gain).connect(context.destination);
    tone.start(zero + startSec);
    tone.stop(zero + endSec + 0.01);
  }
  let over = false;
  const end = () => {
    if (over) return;
    over = true;
    clearTimeout(timer);
    void context.close();
    onEnd();
  };
  const timer = setTimeout(end, 1000 * (LEAD_SEC + lastEndSec) + 200);
  return end;
}
