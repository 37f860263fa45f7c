import { TICK_AMPLITUDE, TICK_HZ, TICK_SEC } from '@ecoute/core/audio/gate';

/** The way from the microphone to the recorder, on the audio clock. Times in seconds of the context. */
export interface TakeGraph {
  /** What the recorder records: silence, until the gate opens. */
  stream: MediaStream;
  /** Lets the microphone through from a moment on, with a tick by which that moment is found again in the file. */
  openAt(sec: number): void;
  /** Lets nothing through from a moment on; a later one replaces it, null takes it back. */
  shutAt(sec: number | null): void;
  close(): void;
}

/** A gate is shut no sooner than this after it opens. */
const AFTER_OPENING_SEC = 0.001;

/**
 * Joins a microphone with a recorder through a gate.
 * @param source the microphone, as a node of the context
 * @param film   a picture that is recorded along
 */
export function takeGraph(
  context: AudioContext,
  source: AudioNode,
  film: MediaStreamTrack | null,
): TakeGraph {
  const gate = context.createGain();
  gate.gain.value = 0;
  const end = new MediaStreamAudioDestinationNode(context, { channelCount: 1, channelCountMode: 'explicit' });
  source.connect(gate).connect(end);
  const stream = film ? new MediaStream([...end.stream.getAudioTracks(), film]) : end.stream;
  let openedSec = 0;
  return {
    stream,
    openAt(sec) {
      openedSec = sec;
      gate.gain.setValueAtTime(1, sec);
      const tick = context.createBuffer(1, Math.round(TICK_SEC * context.sampleRate), context.sampleRate);
      const samples = tick.getChannelData(0);
      for (let i = 0; i < samples.length; i++)
        samples[i] = TICK_AMPLITUDE * Math.sin((2 * Math.PI * TICK_HZ * i) / context.sampleRate);
      const sounding = context.createBufferSource();
      sounding.buffer = tick;
      sounding.connect(end);
      sounding.start(sec);
    },
    shutAt(sec) {
      // What was decided before about the end is no longer so; the opening stays, also where a busy card's clock has not reached
      // it yet: without it nobody would be heard.
      const fromSec = Math.max(context.currentTime, openedSec + AFTER_OPENING_SEC);
      gate.gain.cancelScheduledValues(fromSec);
      if (sec !== null) gate.gain.setValueAtTime(0, Math.max(sec, fromSec));
    },
    close() {
      source.disconnect(gate);
      gate.disconnect();
      end.stream.getTracks().forEach(t => t.stop());
    },
  };
}
