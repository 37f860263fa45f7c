/** The microphone: asking for it, its level, and plain words for when it cannot be had. */
import { dbfs } from '@ecoute/core/audio/peaks';
import { t } from '../../base/i18n';
import { chosenMicrophone, isAnotherThan, keepMicrophone, keptMicrophone, soundOf } from './whichMicrophone';

export interface Microphone {
  stream: MediaStream;
  context: AudioContext;
  /** The microphone as a node of the context: what is recorded goes through it. */
  source: AudioNode;
  /** From sending a sound out to finding it in the microphone's sound, in ms. */
  loop: { ms: number; measured: boolean };
  analyser: AnalyserNode;
  deviceId: string;
  /** Which device it is from one visit to the next: its name, or its id where the browser does not say a name. */
  device: string;
  /** Another one than was asked for: that is not there, or not free. */
  isAnother: boolean;
  close(): void;
}

/** A browser that has not started its sound after so long will not: some have no output to run it by. */
const STARTS_WITHIN_MS = 5_000;

/** A DOMException's name of ours: the browser gave a microphone, but its sound does not run. */
const NO_SOUND = 'SoundDoesNotRun';

/**
 * Opens the microphone chosen last on this device.
 * @param forMusic switches the browser's speech processing off
 * @param deviceId another one, chosen among those that are there
 * @param startsWithinMs a browser that has not started its sound by then does not, here
 * @param isKept it is the one that is chosen from now on
 * @throws DOMException as getUserMedia gives it; `microphoneTrouble` puts it in words
 */
export async function openMicrophone(
  forMusic: boolean,
  deviceId?: string,
  startsWithinMs = STARTS_WITHIN_MS,
  isKept = true,
): Promise<Microphone> {
  if (!navigator.mediaDevices?.getUserMedia) throw new DOMException('no media devices', 'SecurityError');
  const processing = !forMusic;
  const wanted = deviceId === undefined ? keptMicrophone() : await chosenMicrophone(deviceId);
  const stream = await soundOf(wanted, {
    echoCancellation: processing,
    noiseSuppression: processing,
    autoGainControl: processing,
    channelCount: { ideal: 1 },
  });
  // Longer queues: a busy device drops nothing, and the way of a sound is known and reckoned with.
  const context = new AudioContext({ latencyHint: 'playback' });
  await Promise.race([context.resume(), new Promise(resolve => setTimeout(resolve, startsWithinMs))]);
  if (context.state !== 'running') {
    stream.getTracks().forEach(t => t.stop());
    void context.close().catch(() => undefined);
    throw new DOMException('the audio context does not start', NO_SOUND);
  }
  const analyser = context.createAnalyser();
  analyser.fftSize = 2048;
  const source = context.createMediaStreamSource(stream);
  source.connect(analyser);
  const track = stream.getAudioTracks()[0];
  const used = { deviceId: track?.getSettings().deviceId ?? '', name: track?.label || null };
  if (used.deviceId && isKept) keepMicrophone(used);
  return {
    stream,
    context,
    source,
    loop: loopOf(context, stream),
    analyser,
    deviceId: used.deviceId,
    device: used.name ?? used.deviceId,
    isAnother: used.deviceId !== '' && isAnotherThan(wanted, used),
    close() {
      stream.getTracks().forEach(t => t.stop());
      void context.close();
    },
  };
}

/** What the browser says of its queues: out to the loudspeaker, and in from the microphone. In ms. */
function loopOf(context: AudioContext, stream: MediaStream): Microphone['loop'] {
  const out = context.outputLatency || context.baseLatency || 0;
  const { latency = 0 } = (stream.getAudioTracks()[0]?.getSettings() ?? {}) as { latency?: number };
  return { ms: Math.min(500, Math.round((out + latency) * 1000)), measured: false };
}

const samples = new Float32Array(2048);

/** The level just now: highest and effective amplitude of the last 40 ms, 0…1. */
export function levelOf(analyser: AnalyserNode): { peak: number; rms: number } {
  analyser.getFloatTimeDomainData(samples);
  let peak = 0;
  let squares = 0;
  for (let i = 0; i < samples.length; i++) {
    const x = samples[i]!;
    const magnitude = Math.abs(x);
    if (magnitude > peak) peak = magnitude;
    squares += x * x;
  }
  return { peak, rms: Math.sqrt(squares / samples.length) };
}

const QUIETEST_DB = -60;
/** A level is looked at this often: as an eye sees it, and while a slow phone records, as seldom as still looks alive. */
export const levelEveryMs = (isRecording: boolean) => (isRecording ? 100 : 45);

/** An amplitude on a scale of decibels, 0…1, so that a soft voice is seen too. */
export function onScale(amplitude: number): number {
  return Math.max(0, Math.min(1, 1 - dbfs(amplitude) / QUIETEST_DB));
}

export const BEEP_SEC = 0.16;

/** A short tone that says "now", at a moment of the context. In seconds. */
export function beepAt(context: AudioContext, at: number, hz = 880, seconds = BEEP_SEC): void {
  const tone = context.createOscillator();
  const gain = context.createGain();
  tone.frequency.value = hz;
  gain.gain.setValueAtTime(0, at);
  gain.gain.linearRampToValueAtTime(0.2, at + 0.01);
  gain.gain.setValueAtTime(0.2, at + seconds - 0.02);
  gain.gain.linearRampToValueAtTime(0, at + seconds);
  tone.connect(gain).connect(context.destination);
  tone.start(at);
  tone.stop(at + seconds);
}

function browserAtHand(): 'firefox' | 'safari' | 'chromium' {
  const agent = navigator.userAgent;
  if (/firefox/i.test(agent)) return 'firefox';
  if (/safari/i.test(agent) && !/chrom(e|ium)|edg/i.test(agent)) return 'safari';
  return 'chromium';
}

const HOW_TO_ALLOW = {
  firefox:
    'In Firefox, press the crossed-out microphone at the left of the address, remove the block, then try again.',
  safari:
    'In Safari, open the website settings (the symbol beside the address, or Settings › Safari › Microphone on a phone), set Microphone to Allow, then try again.',
  chromium: 'Press the symbol at the left of the address, set Microphone to Allow, then try again.',
};

/** Why there is no microphone, and what to do about it with the browser at hand. */
export function microphoneTrouble(error: unknown): string {
  if (!window.isSecureContext)
    return t(
      'Browsers give a microphone to safe addresses only. Ask your teacher for the address that begins with https.',
    );
  switch ((error as DOMException | null)?.name) {
    case 'NotAllowedError':
    case 'SecurityError':
      return `${t('The browser does not let this page use the microphone.')} ${t(HOW_TO_ALLOW[browserAtHand()])}`;
    case 'NotFoundError':
    case 'OverconstrainedError':
      return t(
        'This device has no microphone that we can find. Plug one in, or go on with another device, then try again.',
      );
    case NO_SOUND:
      return t(
        'The browser gave the microphone, but its sound does not start. Plug in headphones or a loudspeaker, or go on with another browser, then try again.',
      );
    case 'NotReadableError':
    case 'AbortError':
      return t('Another program holds the microphone. Close calls and other recorders, then try again.');
    default:
      return t('The microphone could not be opened. Try again, or go on with another browser.');
  }
}
