import { LIMITS } from '@ecoute/contract/limits';
import { serverNow } from '../../../base/clock';
import { desk } from '../../../parts/recorder/delivery';

/** What can stand as a picture beside a take. */
export function isPictureFile(file: File): boolean {
  return file.type.startsWith('image/') && file.size <= LIMITS.fileBytes;
}

/** Brings a picture of the student's own beside a take; kept on the device until the server has it. */
export async function bringPicture(takeId: string, personId: string, file: File): Promise<void> {
  const id = crypto.randomUUID();
  await desk.whole(
    {
      id,
      mediaType: file.type,
      beganAt: new Date(serverNow()).toISOString(),
      ended: false,
      refusal: null,
      personId,
      place: { itemId: `picture of ${takeId}` },
      announce: {
        url: `/api/takes/${takeId}/picture`,
        body: { recordingId: id, mediaType: file.type },
      },
    },
    file,
  );
}
