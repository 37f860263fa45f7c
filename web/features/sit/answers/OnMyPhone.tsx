import { Smartphone } from 'lucide-react';
import { useState } from 'react';
import type { HandoverView } from '@ecoute/contract/handovers';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Notice } from '../../../parts/Notice';
import { QrCode } from '../../../parts/QrCode';
import { useOfferItemMutation } from '../endpoints';
import { t } from '../../../base/i18n';

/** No microphone here: a code by which the student's own phone answers this one item; the take appears here. */
export function OnMyPhone({
  sittingId,
  itemId,
  opened,
}: {
  sittingId: string;
  itemId: string;
  /** A phone has opened this item. */
  opened: boolean;
}) {
  const [offer, offering] = useOfferItemMutation();
  const [code, setCode] = useState<HandoverView | null>(null);
  const refusal = refusalOf(offering.error);
  const ask = () =>
    void offer({ sittingId, itemId })
      .unwrap()
      .then(setCode, () => undefined);
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
      <QrCode text={code.url} label={t('QR code for this item')} className="w-48 max-w-full" />
      <p className="tabular break-all" data-testid="phone-address">
        {code.url.replace(/^https?:\/\//, '')}
      </p>
      <p role="status">
        {opened
          ? t('Your phone has it. What you record there appears here automatically.')
          : t('You need not sign in on the phone. The code is for this item alone and lasts 15 minutes.')}
      </p>
      <div className="flex flex-wrap justify-center gap-3">
        <Button onClick={ask}>{t('A new code')}</Button>
        <Button onClick={() => setCode(null)}>{t('Answer here after all')}</Button>
      </div>
    </div>
  );
}
