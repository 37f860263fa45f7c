import { useState } from 'react';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { returnAddress } from './returns';

/** A guest’s way back from anywhere, to finish and to see the feedback. */
export function KeepAddress() {
  const [copied, setCopied] = useState(false);
  const address = returnAddress();
  if (!address) return null;
  return (
    <section className="grid gap-2 border-s-4 border-petrol bg-sheet px-4 py-3">
      <p className="font-semibold">{t('Your way back')}</p>
      <p>
        {t(
          'On this device you find your work here. From elsewhere, and to hear the feedback later, keep this address; it is yours alone.',
        )}
      </p>
      <p className="tabular text-sm break-all">{address}</p>
      <div>
        <Button
          onClick={() =>
            void navigator.clipboard.writeText(address).then(
              () => setCopied(true),
              () => undefined,
            )
          }
        >
          {copied ? t('Copied') : t('Copy the address')}
        </Button>
      </div>
    </section>
  );
}
