import type { Delivery } from '../../../parts/recorder/delivery';

/** A file stands: the server holds it and said what it is. */
export function stands(delivery: Delivery | undefined): boolean {
  return delivery?.state === 'delivered' && delivery.recording?.state === 'stored';
}

/** A file will not come: refused, or kept on this device because the server does not take it. */
export function failed(delivery: Delivery): boolean {
  return delivery.state === 'kept' || delivery.recording?.state === 'refused';
}

/** How far a file is, in words. */
export function progressOf(delivery: Delivery): string {
  if (delivery.message) return delivery.message;
  const { pages, pagesReady = 0 } = delivery.recording?.details ?? {};
  if (delivery.state === 'checking')
    return pages ? `Drawing page ${pagesReady + 1} of ${pages} …` : 'Looking at the file …';
  return `Storing the file: ${Math.round((100 * delivery.sent) / Math.max(1, delivery.bytes))} %`;
}
