import { hzOfMidi } from '@ecoute/core/formats/musicXml';

const LENGTH_SEC = 2;
/** A few partials of falling strength: easier to take a pitch from than a bare sine. */
const PARTIALS = [1, 0.35, 0.2, 0.1, 0.06];

let context: AudioContext | null = null;

/** Sounds one note for two seconds. @param midi its MIDI number */
export function soundNote(midi: number): void {
  context ??= new AudioContext();
  void context.resume();
  const at = context.currentTime + 0.02;
  const wave = context.createPeriodicWave(
    new Float32Array(PARTIALS.length + 1),
    Float32Array.from([0, ...PARTIALS]),
  );
  const tone = context.createOscillator();
  const gain = context.createGain();
  tone.setPeriodicWave(wave);
  tone.frequency.value = hzOfMidi(midi);
  gain.gain.setValueAtTime(0, at);
  gain.gain.linearRampToValueAtTime(0.25, at + 0.03);
  gain.gain.setValueAtTime(0.25, at + LENGTH_SEC - 0.3);
  gain.gain.linearRampToValueAtTime(0, at + LENGTH_SEC);
  tone.connect(gain).connect(context.destination);
  tone.start(at);
  tone.stop(at + LENGTH_SEC);
}
