import { GateFinder, TICK_SEC } from '@ecoute/core/audio/gate';
import { chirp, CHIRP_SEC, findChirp } from '@ecoute/core/audio/chirp';
import { checkSound, type SoundCheck } from '@ecoute/core/audio/soundCheck';
import type { Microphone } from './microphone';
import { recordingType } from './take';
import { takeGraph } from './takeGraph';

const TEST_SEC = 2;
const LEAD_SEC = 0.15;
/** The chirp is sent out so long after the gate: after the first breath, before the first word is over. */
const CHIRP_AT_SEC = 0.25;
/** No sound is longer under way than this. */
const LONGEST_LOOP_SEC = 0.6;
const CHIRP_LOUD = 0.4;
/** Somebody who plays just then drowns it. */
const LOOP_TRIES = 2;
/** An encoder spreads a tick by so much behind it. */
const SMEAR_SEC = 0.04;

export interface MicTest extends SoundCheck {
  sound: Blob;
  /** The microphone hears what this device plays: headphones would keep prompts out of answers. */
  hearsLoudspeaker: boolean;
}

/** What came through the way that a take goes. */
interface Through {
  sound: Blob;
  samples: Float32Array<ArrayBuffer>;
  rateHz: number;
  /** Where the gate opened, in seconds of the samples; null where its tick was not found. */
  openedSec: number | null;
  /** Where the chirp came back, in ms after it was sent out; null where it did not, or none was sent. */
  cameBackMs: number | null;
}

/** Records for a while, exactly as a take is recorded. @param withChirp a short tone is sent out and listened for */
async function through(microphone: Microphone, seconds: number, withChirp: boolean): Promise<Through> {
  const { context, source } = microphone;
  await context.resume();
  const graph = takeGraph(context, source, null);
  try {
    const recorder = new MediaRecorder(graph.stream, { mimeType: recordingType() });
    const parts: Blob[] = [];
    recorder.ondataavailable = e => parts.push(e.data);
    const [running, over] = (['start', 'stop'] as const).map(
      kind => new Promise(resolve => recorder.addEventListener(kind, resolve, { once: true })),
    );
    recorder.start();
    await running;
    const gateSec = context.currentTime + LEAD_SEC;
    graph.openAt(gateSec);
    if (withChirp) sendOut(context, gateSec + CHIRP_AT_SEC);
    await new Promise(resolve => setTimeout(resolve, (LEAD_SEC + seconds) * 1000));
    recorder.stop();
    await over;
    const sound = new Blob(parts, { type: recorder.mimeType });
    const decoded = await context.decodeAudioData(await sound.arrayBuffer());
    const samples = decoded.getChannelData(0);
    const gate = new GateFinder(decoded.sampleRate);
    gate.push(samples);
    const openedSec = gate.openedAtMs === null ? null : gate.openedAtMs / 1000;
    const from = (openedSec ?? 0) + CHIRP_AT_SEC;
    const found =
      withChirp && openedSec !== null
        ? findChirp(samples, decoded.sampleRate, from, from + LONGEST_LOOP_SEC)
        : null;
    // It holds for this microphone as it is open now: on one card it was seen to differ by 40 ms from one opening to the next.
    if (found) microphone.loop = { ms: Math.round(found.atMs * 10) / 10, measured: true };
    return { sound, samples, rateHz: decoded.sampleRate, openedSec, cameBackMs: found?.atMs ?? null };
  } finally {
    graph.close();
  }
}

/**
 * Learns how long a sound is under way from this page to its own microphone: a short tone is sent out and listened for, a few
 * times where somebody plays over it. The time is kept with the microphone, as it is open now.
 * @returns whether the tone came back: through headphones it does not, unless one of them is held to the microphone
 * @throws when the recorder cannot be had
 */
export async function measureLoop(microphone: Microphone, tries = LOOP_TRIES): Promise<boolean> {
  for (let n = 0; n < tries; n++) {
    const { cameBackMs } = await through(microphone, CHIRP_AT_SEC + LONGEST_LOOP_SEC + 2 * CHIRP_SEC, true);
    if (cameBackMs !== null) return true;
  }
  return false;
}

/**
 * Records two seconds, exactly as a take is recorded, and looks at them. Where something will sound along with the
 * answers, a short tone is sent out and listened for; the time it takes is kept with the microphone.
 * @throws when the recorder cannot be had
 */
export async function testMicrophone(microphone: Microphone, playsAlong: boolean): Promise<MicTest> {
  const { sound, samples, rateHz, openedSec, cameBackMs } = await through(microphone, TEST_SEC, playsAlong);
  // The chirp is neither somebody's voice nor the room.
  if (cameBackMs !== null) {
    const at = Math.round(((openedSec ?? 0) + CHIRP_AT_SEC + cameBackMs / 1000) * rateHz);
    samples.fill(0, at, at + Math.round(CHIRP_SEC * rateHz));
  }
  // Nor is the tick of the gate: with it, a dead microphone would be heard.
  const spokenSec = openedSec === null ? 0 : openedSec + TICK_SEC + SMEAR_SEC;
  const spoken = samples.subarray(Math.round(spokenSec * rateHz));
  return { ...checkSound(spoken, rateHz), sound, hearsLoudspeaker: cameBackMs !== null };
}

function sendOut(context: AudioContext, sec: number): void {
  const samples = chirp(context.sampleRate).map(x => x * CHIRP_LOUD);
  const buffer = context.createBuffer(1, samples.length, context.sampleRate);
  buffer.copyToChannel(samples, 0);
  const source = context.createBufferSource();
  source.buffer = buffer;
  source.connect(context.destination);
  source.start(sec);
}
