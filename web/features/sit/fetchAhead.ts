import type { AssessmentContent } from '@ecoute/contract/assessments';
import { filesOf } from '@ecoute/contract/assessment/files';

/** Fetches everything that a sitting sounds and shows, so that it goes on when the network is gone. */
export async function fetchAhead(content: AssessmentContent): Promise<void> {
  for (const { recordingId, media } of filesOf(content)) {
    // Nothing is known yet of what is not shown yet.
    if (recordingId === '') continue;
    const what = media.some(m => m === 'sound' || m === 'video') ? 'sound' : 'shown';
    await fetch(`/api/recordings/${recordingId}/${what}`, { priority: 'low' }).catch(() => undefined);
  }
}
