import { blankStimulus } from '@ecoute/contract/blank';
import type { RecordingView } from '@ecoute/contract/recordings';
import type { Stimulus } from '@ecoute/contract/stimuli';

/** A file that has arrived, as a thing to look at. */
export function shownAs({ id, medium, details }: RecordingView): Stimulus | null {
  if (medium !== 'picture' && medium !== 'pages' && medium !== 'notation') return null;
  const parts = details?.score?.parts ?? [];
  // Of several parts the first is meant more often than all of them; one part needs no choice.
  return blankStimulus(crypto.randomUUID(), medium, {
    recordingId: id,
    part: parts.length > 1 ? parts[0]!.id : '',
  });
}

/** What the contract says of things to look at, by their place: from fields such as `stimuli.2.url`. */
export function stimulusErrors(problems: Record<string, string>): Record<number, string> {
  return Object.fromEntries(
    Object.entries(problems).flatMap(([path, words]) => {
      const at = /^stimuli\.(\d+)/.exec(path)?.[1];
      return at === undefined ? [] : [[Number(at), words]];
    }),
  );
}
