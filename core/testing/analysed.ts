import { BandMeter, type BandLevels } from '../audio/bands';
import { HalfSplitter, type Halves } from '../audio/halves';
import { PitchTracker, type Pitch } from '../audio/pitch';

/** A whole sound by its bands and its pitch. @param samples mono at 16 kHz */
export function analysed(samples: Float32Array): { bands: BandLevels; pitch: Pitch } {
  const splitter = new HalfSplitter();
  const meter = new BandMeter();
  const tracker = new PitchTracker();
  const take = (halves: Halves) => {
    meter.push(halves);
    tracker.push(halves.low);
  };
  take(splitter.push(samples));
  take(splitter.finish());
  return { bands: meter.finish(), pitch: tracker.finish() };
}
