import { useEffect, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { Notice } from '../../../parts/Notice';
import { freeBytes, roomFor, type Room } from '../../../parts/recorder/room';
import { t } from '../../../base/i18n';

/** Whether this device has room for an answer; null until it is known. */
function useRoom(lengthMs: number, withFilm: boolean): Room | null {
  const [room, setRoom] = useState<Room | null>(null);
  useEffect(() => {
    let current = true;
    void freeBytes().then(free => current && setRoom(roomFor(free, lengthMs, withFilm)));
    return () => {
      current = false;
    };
  }, [lengthMs, withFilm]);
  return room;
}

/**
 * A word before the room of this device, or the room that is kept for somebody, is full.
 * @param bytesLeft of what the server keeps for them; null without a limit
 */
export function RoomNotices({
  item,
  withFilm,
  bytesLeft,
}: {
  item: Item;
  withFilm: boolean;
  bytesLeft: number | null;
}) {
  const room = useRoom(item.answerLimitMs, withFilm);
  return (
    <>
      {room && !room.enough && (
        <Notice kind="trouble">
          {t(
            'This device has room for about {{time}} of this answer only. Free some space first, or answer with your phone.',
            { time: clock(room.fitsMs) },
          )}
        </Notice>
      )}
      {bytesLeft !== null && bytesLeft <= 0 && (
        <Notice kind="trouble">
          {t(
            'Your recordings fill the room that you have here. What you record now stays on this device until there is more: tell your teacher first.',
          )}
        </Notice>
      )}
      {/* The one that is begun is still taken whole; the next would not be. */}
      {bytesLeft !== null && bytesLeft > 0 && !roomFor(bytesLeft, item.answerLimitMs, withFilm).enough && (
        <Notice>
          {t(
            'There is room here for this answer, and hardly for another. Tell your teacher before you go on.',
          )}
        </Notice>
      )}
    </>
  );
}
