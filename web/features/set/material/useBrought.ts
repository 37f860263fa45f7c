import { LIMITS } from '@ecoute/contract/limits';
import type { Wanted } from '@ecoute/contract/recordings';
import { useMe } from '../../../base/useMe';
import { desk } from '../../../parts/recorder/delivery';
import type { KeptSound } from '../../../parts/recorder/soundStore';
import { useDeliveries } from '../../../parts/recorder/useDeliveries';

/** Files on their way into one place of an assessment; found again after a reload. */
export function useBrought(assessmentId: string, place: string, wanted: Wanted) {
  const me = useMe();
  const deliveries = useDeliveries().filter(
    d => d.sound.place.assessmentId === assessmentId && d.sound.place.itemId === place,
  );

  /** How the server is told of a file for this place. */
  const describe = (
    id: string,
    mediaType: string,
    source: 'recorded' | 'uploaded',
    fileName: string | null,
  ): Pick<KeptSound, 'announce' | 'place' | 'personId'> => ({
    personId: me.id,
    place: { assessmentId, itemId: place },
    announce: {
      url: `/api/assessments/${assessmentId}/prompts`,
      body: { recordingId: id, mediaType, source, fileName, wanted },
    },
  });

  /** Sends a file. @returns why it is not sent, or null */
  const bring = async (file: File): Promise<string | null> => {
    if (file.size > LIMITS.promptBytes)
      return `“${file.name}” is ${Math.round(file.size / 1_048_576)} MB; a file may have 300 MB. Choose a smaller one.`;
    const id = crypto.randomUUID();
    const mediaType = file.type || 'application/octet-stream';
    await desk.whole(
      {
        id,
        mediaType,
        beganAt: new Date().toISOString(),
        ended: false,
        refusal: null,
        ...describe(id, mediaType, 'uploaded', file.name.slice(0, 255)),
      },
      file,
    );
    return null;
  };

  return { deliveries, describe, bring };
}
