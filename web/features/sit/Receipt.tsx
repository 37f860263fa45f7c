import { useEffect, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { type Receipt, type SittingView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../base/api';
import { Button, ButtonLink } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { lazyPart } from '../../parts/lazyPart';
import { ModelAnswer } from '../../parts/ModelAnswer';
import { Notice } from '../../parts/Notice';
import { StateWord } from '../../parts/StateWord';
import { Strip } from '../../parts/strip/Strip';
import { when } from '../../parts/when';
import { useOpenModelsMutation, useWithdrawMutation } from './endpoints';
import { useMe } from '../../base/useMe';
import { KeepAddress } from '../guest/KeepAddress';
import { useArrival } from './stage/useArrival';
import { t } from '../../base/i18n';
import { handInDesk } from './handIn/handInDesk';

const NotThere = lazyPart<{ sitting: SittingView; itemId?: string }>(() => import('./together/NotThere'));

/** What was handed in, with the server's checksums: proof that it arrived as it was recorded. */
export function ReceiptStage({ sitting, receipt }: { sitting: SittingView; receipt: Receipt }) {
  const me = useMe();
  const heading = useArrival<HTMLHeadingElement>();
  const [asking, setAsking] = useState(false);
  const [opening, setOpening] = useState(false);
  const [openModels] = useOpenModelsMutation();
  const [withdraw, { error }] = useWithdrawMutation();
  const refusal = refusalOf(error);
  // It is on the screen: nobody need be told of it elsewhere.
  useEffect(() => handInDesk.seen(), []);
  const answered = new Set(
    receipt.lines.filter(l => l.takeId || l.written || l.passed || l.studied).map(l => l.itemId),
  );
  return (
    <section className="mx-auto grid w-full grid-cols-1 max-w-2xl gap-5 bg-sheet p-5 sm:p-8">
      <div>
        <h2 ref={heading} tabIndex={-1} className="text-2xl">
          {answered.size < receipt.lines.length
            ? t('Handed in. What you answered is with your teacher.')
            : t('Handed in. Everything is with your teacher.')}
        </h2>
        <p className="mt-2">
          {when(receipt.handedInAt)} <StateWord state={sitting.state} late={receipt.late} />
        </p>
        {receipt.heardAt && (
          <p className="mt-2">
            {t('That is when you wanted it. It arrived {{when}}, when this device was connected again.', {
              when: when(receipt.heardAt),
            })}
          </p>
        )}
        {receipt.byItself && (
          <p className="mt-2">{t('The time of the sitting was up, so it was handed in automatically.')}</p>
        )}
        {sitting.content.closingWords && (
          <p className="mt-4 text-lg whitespace-pre-wrap">{sitting.content.closingWords}</p>
        )}
      </div>
      <Strip items={sitting.content.items} answered={answered} label={t('What you answered')} />
      {sitting.takes.some(take => take.together) && <NotThere sitting={sitting} />}
      {me.isGuest && <KeepAddress />}
      <ol className="divide-y divide-line">
        {receipt.lines.map((line, i) => (
          <li key={line.itemId} className="flex flex-wrap items-baseline gap-x-4 py-2">
            <span className="font-semibold">{t('Item {{number}}', { number: i + 1 })}</span>
            {line.takeId ? (
              <>
                {line.durationMs === null ? (
                  <span>{line.fileName ?? t('a file')}</span>
                ) : (
                  <span className="tabular">{clock(line.durationMs)}</span>
                )}
                <span className="text-sm text-soft">{Math.round((line.sizeBytes ?? 0) / 1024)} kB</span>
                <span className="tabular ms-auto text-sm text-soft" title={`SHA-256 ${line.sha256}`}>
                  {line.sha256
                    ? t('checksum {{start}}', { start: line.sha256.slice(0, 12) })
                    : t('arrived, being looked at')}
                </span>
                {withOthers(sitting, line.takeId) && (
                  <span dir="auto" className="w-full text-sm">
                    {t('together with {{names}}', { names: withOthers(sitting, line.takeId) })}
                  </span>
                )}
                {line.cutShort && (
                  <span className="text-sm">{t('As far as it came: its device did not send the rest.')}</span>
                )}
              </>
            ) : line.written ? (
              <span>{t('answered in writing')}</span>
            ) : line.passed ? (
              <span>{t('passed')}</span>
            ) : line.studied ? (
              <span>{t('gone through')}</span>
            ) : (
              <span className="text-soft">
                {line.lost ? t('no answer: the recording never came from the other device') : t('no answer')}
              </span>
            )}
            {sitting.content.items[i] && (
              <div className="w-full">
                <ModelAnswer item={sitting.content.items[i]} number={i + 1} />
              </div>
            )}
          </li>
        ))}
      </ol>
      <div className="flex flex-wrap gap-3">
        {sitting.state === 'feedbackGiven' ? (
          <ButtonLink look="main" to={`/feedback/${sitting.id}`}>
            {t('Hear the feedback')}
          </ButtonLink>
        ) : (
          <ButtonLink look="main" to="/">
            {t('Back to Now')}
          </ButtonLink>
        )}
        <ButtonLink to="/recordings">{t('My recordings')}</ButtonLink>
        {sitting.modelsWait && (
          <Button onClick={() => setOpening(true)}>{t('See the model answers …')}</Button>
        )}
        {sitting.mayWithdraw && (
          <Button onClick={() => setAsking(true)}>{t('Take it back and go on …')}</Button>
        )}
      </div>
      {refusal && <Notice kind="trouble">{t(refusal.message)}</Notice>}
      <Confirm
        open={opening}
        onClose={() => setOpening(false)}
        title={t('See the model answers?')}
        yes={t('See them')}
        no={t('Not now')}
        onYes={() => void openModels(sitting.id)}
      >
        <p>{t('After that, what you handed in stays as it is: it cannot be taken back any more.')}</p>
      </Confirm>
      <Confirm
        open={asking}
        onClose={() => setAsking(false)}
        title={t('Take it back?')}
        yes={t('Take it back')}
        no={t('Leave it handed in')}
        onYes={() => void withdraw(sitting.id)}
      >
        <p>
          {t(
            'Your teacher does not have it any more until you hand in again, by {{when}} at the latest. Every take stays.',
            {
              when: when(sitting.dueAt),
            },
          )}
        </p>
      </Confirm>
    </section>
  );
}

/** Who else is heard in a recording, by name. */
function withOthers(sitting: SittingView, takeId: string): string {
  return sitting.takes.find(take => take.id === takeId)?.together?.names.join(', ') ?? '';
}
