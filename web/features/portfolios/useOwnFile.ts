import { useState } from 'react';
import { serverNow } from '../../base/clock';
import { refusalOf } from '../../base/api';
import { t } from '../../base/i18n';
import { useMe } from '../../base/useMe';
import { desk } from '../../parts/recorder/delivery';
import { useDeliveries } from '../../parts/recorder/useDeliveries';
import { useBringIntoPortfolioMutation } from './endpoints';

/**
 * Pictures and spoken reflections on their way into a portfolio. The server makes room first, so that what stands in the
 * portfolio is known there; then the file goes the way of every recording: kept on this device until it has arrived.
 */
export function useOwnFile(portfolioId: string) {
  const me = useMe();
  const [announce] = useBringIntoPortfolioMutation();
  const deliveries = useDeliveries();
  const [trouble, setTrouble] = useState<string | null>(null);

  /** @returns whether it is on its way */
  const bring = async (
    id: string,
    wanted: 'picture' | 'sound',
    mediaType: string,
    file: Blob,
  ): Promise<boolean> => {
    setTrouble(null);
    const told = { recordingId: id, mediaType, wanted };
    try {
      await announce({ id: portfolioId, ...told }).unwrap();
      await desk.whole(
        {
          id,
          mediaType,
          beganAt: new Date(serverNow()).toISOString(),
          ended: false,
          refusal: null,
          personId: me.id,
          place: {},
          announce: { url: `/api/portfolios/${portfolioId}/files`, body: told },
        },
        file,
      );
      return true;
    } catch (error) {
      setTrouble(
        refusalOf(error)?.message ?? t('This could not be sent just now. It is still here; send it again.'),
      );
      return false;
    }
  };

  /** Where a file is: under way, here, or not to be used, in the server's words. */
  const fateOf = (id: string): { underWay: boolean; message: string | null } => {
    const delivery = deliveries.find(d => d.sound.id === id);
    return {
      underWay: delivery !== undefined && delivery.state !== 'delivered' && delivery.state !== 'kept',
      message: delivery?.state === 'kept' ? delivery.message : null,
    };
  };

  return { bring, fateOf, trouble };
}
