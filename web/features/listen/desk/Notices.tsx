import { clock } from '@ecoute/core/timing/words';
import { when } from '../../../parts/when';
import type { Lane } from '@ecoute/contract/marking';

/** What is to be known of a take before it is scored, in as little room as it can be said. */
export function Notices({ lane }: { lane: Lane }) {
  const said = [
    lane.again?.isOfFirst &&
      `Recorded again ${when(lane.again.recordedAt)}. The score is of the first recording; finish again to score this one.`,
    lane.silent && 'Nothing can be heard in this recording.',
    lane.holes.length > 0 &&
      `The device recorded nothing ${lane.holes.map(h => `from ${clock(h.fromMs)} to ${clock(h.toMs)}`).join(', ')}: silence stands there.`,
    lane.cutShort && 'This take counts as far as it came: the student’s device did not send the rest.',
    lane.lost &&
      'Something was recorded here that never came from the student’s device. They may record again.',
    lane.saidMs !== null &&
      `Ecoute first heard of this take after the end. The browser says that it began ${clock(lane.saidMs)} earlier; there is no other sign of it.`,
  ].filter(words => typeof words === 'string');
  if (said.length === 0) return null;
  return (
    <p className="border-s-4 border-edge ps-3 text-sm leading-snug">
      {said.map(words => (
        <span key={words} className="block">
          ▲ {words}
        </span>
      ))}
    </p>
  );
}
