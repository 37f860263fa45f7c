/** Worker: what the microphone hears just now. One answer to each piece. */
import { heardNow } from '@ecoute/core/audio/tuner';

onmessage = ({ data }: MessageEvent<{ samples: Float32Array; rateHz: number }>) =>
  postMessage(heardNow(data.samples, data.rateHz));
