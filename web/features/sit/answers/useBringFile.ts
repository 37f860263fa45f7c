import { useCallback, useState } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import { serverNow } from '../../../base/clock';
import { useMe } from '../../../base/useMe';
import { desk } from '../../../parts/recorder/delivery';
import { useSittingUrl } from '../device/device';
import { useRehearsal } from '../rehearsal/rehearsal';
import { t } from '../../../base/i18n';

/**
 * Takes a file as the answer of an item: kept on this device first, then sent, looked at by the server and played
 * in place.
 * @param source whether it stands in for a recording, or is what the item asks for
 */
export function useBringFile(
  sittingId: string,
  item: Item,
  source: 'recorded' | 'uploaded',
): { bring: (chosen: File) => Promise<void>; trouble: string | null } {
  const me = useMe();
  const rehearsal = useRehearsal();
  const url = useSittingUrl(sittingId);
  const [trouble, setTrouble] = useState<string | null>(null);
  const bring = useCallback(
    async (chosen: File) => {
      setTrouble(null);
      if (chosen.size > LIMITS.fileBytes) {
        setTrouble(
          t('“{{name}}” is {{size}} MB; a file may have 200 MB. Choose a smaller one.', {
            name: chosen.name,
            size: Math.round(chosen.size / 1_048_576),
          }),
        );
        return;
      }
      const id = crypto.randomUUID();
      const beganAt = new Date(serverNow()).toISOString();
      const mediaType = chosen.type || 'application/octet-stream';
      const fileName = chosen.name.slice(0, 255);
      try {
        await desk.whole(
          {
            id,
            mediaType,
            beganAt,
            ended: false,
            refusal: null,
            personId: me.id,
            place: { sittingId, itemId: item.id },
            announce: rehearsal
              ? null
              : {
                  url: `${url}/takes`,
                  body: { recordingId: id, itemId: item.id, mediaType, beganAt, fileName, source },
                },
          },
          chosen,
        );
      } catch {
        setTrouble(
          t(
            'This device could not keep the file: its storage is full. Free some space, then choose it again.',
          ),
        );
      }
    },
    [item.id, me.id, rehearsal, sittingId, source, url],
  );
  return { bring, trouble };
}
