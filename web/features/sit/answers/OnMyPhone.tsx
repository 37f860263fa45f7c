import { Smartphone } from 'lucide-react';
import { useState } from 'react';
import type { HandoverView } from '@ecoute/contract/handovers';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { QrCode } from '../../../parts/QrCode';
import { useBringPhoneMutation, useOfferItemMutation } from '../endpoints';
import { t } from '../../../base/i18n';

/** No microphone here: with one code the student's own phone records the whole sitting; the takes appear here. */
export default function OnMyPhone({
  sittingId,
  itemId,
  phoneAt,
  numberOf,
}: {
  sittingId: string;
  itemId: string;
  /** The item where a phone is; null where none is. */
  phoneAt: string | null;
  /** The number of an item, from 1. */
  numberOf: (itemId: string) => number;
}) {
  const [offer, offering] = useOfferItemMutation();
  const [bring, bringing] = useBringPhoneMutation();
  const [code, setCode] = useState<HandoverView | null>(null);
  const refusal = refusalOf(offering.error) ?? refusalOf(bringing.error);
  const ask = () =>
    void offer({ sittingId, itemId })
      .unwrap()
      .then(setCode, () => undefined);
  if (phoneAt !== null)
    return (
      <div className="grid w-full gap-3 border-2 border-ink bg-sheet p-4">
        <p role="status" className="flex items-center gap-2">
          <Smartphone aria-hidden className="size-5 shrink-0" />
          {phoneAt === itemId
            ? t('Your phone has it. What you record there appears here automatically.')
            : t('Your phone is at item {{number}}.', { number: numberOf(phoneAt) })}
        </p>
        <div className="flex flex-wrap gap-3">
          {phoneAt !== itemId && (
            <Button disabled={bringing.isLoading} onClick={() => void bring({ sittingId, itemId })}>
              {t('Bring it to this item')}
            </Button>
          )}
          <Button
            look="quiet"
            disabled={bringing.isLoading}
            onClick={() => {
              setCode(null);
              void bring({ sittingId, itemId: null });
            }}
          >
            {t('Go on without the phone')}
          </Button>
        </div>
        {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      </div>
    );
  if (!code)
    return (
      <div className="grid gap-2">
        <Button look="quiet" onClick={ask} disabled={offering.isLoading}>
          <Smartphone aria-hidden className="size-5" /> {t('Answer with my phone instead')}
        </Button>
        {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      </div>
    );
  return (
    <div className="grid justify-items-center gap-3 border-2 border-ink bg-sheet p-5 text-center">
      <p className="text-lg">{t('Point your phone’s camera here, or type the address.')}</p>
      <QrCode text={code.url} label={t('QR code for your phone')} className="w-48 max-w-full" />
      <p className="tabular break-all" data-testid="phone-address">
        {code.url.replace(/^https?:\/\//, '')}
      </p>
      <p role="status">
        {t(
          'You need not sign in on the phone. One code is enough for all of this sitting; it waits 15 minutes.',
        )}
      </p>
      <div className="flex flex-wrap justify-center gap-3">
        <Button onClick={ask}>{t('A new code')}</Button>
        <Button onClick={() => setCode(null)}>{t('Answer here after all')}</Button>
      </div>
    </div>
  );
}
