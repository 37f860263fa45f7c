import { clock } from '@ecoute/core/timing/words';
import type { Lane } from '@ecoute/contract/marking';

const times = (n: number, what: string) =>
  n === 1 ? `${what} once` : `${what} ${n === 2 ? 'twice' : `${n} times`}`;

/** How an answer came about, in sentences; empty where there is nothing to say. */
export function aboutTake(
  lane: Pick<Lane, 'source' | 'wholeMs' | 'durationMs' | 'used'>,
  hasPromptToHear: boolean,
): string[] {
  const { source, wholeMs, durationMs, used } = lane;
  const helped = [
    hasPromptToHear && used.hearings > 1 && times(used.hearings, 'heard the prompt'),
    used.hints > 0 && 'opened the hint',
    used.readAlouds > 0 && times(used.readAlouds, 'had the words read aloud'),
  ].filter(w => w !== false);
  const said = helped.join(', ');
  return [
    source === 'phone' && 'Recorded on a phone.',
    source === 'uploaded' && 'Brought as a file.',
    wholeMs !== null && `The student cut this take: ${clock(durationMs ?? 0)} of ${clock(wholeMs)}.`,
    said !== '' && `${said.charAt(0).toUpperCase()}${said.slice(1)}.`,
  ].filter(w => w !== false);
}
