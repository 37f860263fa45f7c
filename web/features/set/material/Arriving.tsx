import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { desk, type Delivery } from '../../../parts/recorder/delivery';
import { failed, progressOf } from './brought';

/** A file on its way: how far it is, why it does not come, and the way to let go of it. */
export function Arriving({ delivery }: { delivery: Delivery }) {
  const over = failed(delivery);
  const { fileName } = (delivery.sound.announce?.body ?? {}) as { fileName?: string | null };
  const { pages, pagesReady = 0 } = delivery.recording?.details ?? {};
  const part =
    delivery.state === 'checking'
      ? pages
        ? pagesReady / pages
        : null
      : delivery.sent / Math.max(1, delivery.bytes);
  return (
    <Notice
      kind={over ? 'trouble' : 'note'}
      action={
        <Button onClick={() => void desk.discard(delivery.sound.id)}>
          {over ? 'Throw it away' : 'Cancel'}
        </Button>
      }
    >
      {fileName && <strong>{fileName}: </strong>}
      {progressOf(delivery)}
      {!over && part !== null && (
        <div
          role="progressbar"
          aria-label="How far it is"
          aria-valuenow={Math.round(100 * part)}
          className="mt-1 h-2 w-full bg-line"
        >
          <div className="h-full bg-saffron" style={{ width: `${100 * part}%` }} />
        </div>
      )}
    </Notice>
  );
}
