import { Copy, ExternalLink, Printer } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { type PortfolioAddress, type PortfolioView } from '@ecoute/contract/portfolios';
import { studentLanguage } from '@ecoute/contract/languages';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../../base/api';
import { screenLanguage, t } from '../../base/i18n';
import { Button, buttonClass } from '../../parts/Button';
import { Confirm } from '../../parts/Confirm';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { Tick } from '../../parts/Tick';
import { useMakeAddressMutation, useRevokeAddressMutation, useShowPortfolioMutation } from './endpoints';
import { dayOf } from './pieces';

const LENGTHS: [days: number, words: () => string][] = [
  [7, () => t('a week')],
  [31, () => t('a month')],
  [92, () => t('three months')],
  [366, () => t('a year')],
];

/** One address: how long it lives, and what can be done with it. */
function Address({
  portfolio,
  address,
  onEnd,
}: {
  portfolio: PortfolioView;
  address: PortfolioAddress;
  onEnd: () => void;
}) {
  const [copied, setCopied] = useState(false);
  const lives = address.state === 'lives';
  return (
    <li className="grid gap-2 bg-sheet px-4 py-3">
      <p className="flex flex-wrap items-baseline justify-between gap-x-4">
        <span dir="auto" className="font-semibold">
          {address.name}
        </span>
        <span className="text-sm text-soft">
          {lives
            ? t('until {{date}}', { date: dayOf(address.endsAt) })
            : address.state === 'over'
              ? t('over since {{date}}', { date: dayOf(address.endsAt) })
              : t('ended by you')}
        </span>
      </p>
      {lives && (
        <>
          <p className="tabular bg-sunk p-2 text-sm break-all">{address.url}</p>
          <p className="flex flex-wrap gap-2">
            <Button
              onClick={() =>
                void navigator.clipboard.writeText(address.url).then(
                  () => setCopied(true),
                  () => undefined,
                )
              }
            >
              <Copy aria-hidden className="size-5" /> {copied ? t('Copied') : t('Copy the address')}
            </Button>
            <a href={address.url} target="_blank" rel="noreferrer" className={buttonClass()}>
              <ExternalLink aria-hidden className="size-5" /> {t('See it as they do')}
            </a>
            <a
              href={`/api/portfolios/${portfolio.id}/portfolio.pdf?address=${address.id}`}
              className={buttonClass()}
            >
              <Printer aria-hidden className="size-5" /> {t('On paper, with codes (PDF)')}
            </a>
            <Button
              look="quiet"
              aria-label={t('End the address for {{name}}', { name: address.name })}
              onClick={onEnd}
            >
              {t('End it')}
            </Button>
          </p>
        </>
      )}
    </li>
  );
}

/** Who sees a portfolio: teachers by name, others by an address that ends. What they get to know is said. */
export function Sharing({ portfolio }: { portfolio: PortfolioView }) {
  const [show, { error: notShown }] = useShowPortfolioMutation();
  const [make, { error: notMade, isLoading }] = useMakeAddressMutation();
  const [revoke, { error: notEnded }] = useRevokeAddressMutation();
  const [name, setName] = useState('');
  const [days, setDays] = useState(31);
  const [ending, setEnding] = useState<PortfolioAddress | null>(null);
  const { id, teachers, addresses } = portfolio;
  const seeing = teachers.filter(x => x.sees).map(x => x.id);
  const isAlone = seeing.length === 0 && !addresses.some(a => a.state === 'lives');
  const refusal = refusalOf(notShown) ?? refusalOf(notEnded);
  const wrong = refusalOf(notMade);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const language = studentLanguage(screenLanguage());
    const made = await make({ id, name, days, language });
    if (!made.error) setName('');
  };
  return (
    <section aria-labelledby="sharing" className="mt-8 grid gap-4">
      <h2 id="sharing" className="text-xl">
        {t('Who sees it')}
      </h2>
      {isAlone && <p>{t('Only you, until you show it to somebody.')}</p>}
      {teachers.length > 0 && (
        <fieldset>
          <legend className="font-semibold">{t('Your teachers')}</legend>
          {teachers.map(teacher => (
            <Tick
              key={teacher.id}
              checked={teacher.sees}
              onChange={sees =>
                void show({
                  id,
                  teacherIds: sees ? [...seeing, teacher.id] : seeing.filter(x => x !== teacher.id),
                })
              }
            >
              {t('{{name}} sees it', { name: teacher.displayName })}
            </Tick>
          ))}
        </fieldset>
      )}
      <div className="grid gap-3">
        <h3 className="font-semibold">{t('Others, by a private address')}</h3>
        <p className="max-w-prose text-sm text-soft">
          {t(
            'Whoever has an address reads your name ({{name}}), your titles and your words, hears the recordings that have feedback and what you said, and sees your pictures. They see no score, no comment and no prompt; where you gave no title they read the name of the assessment. Whoever gets the address from them sees all of it too, until it ends.',
            { name: portfolio.ownerName },
          )}
        </p>
        {addresses.length > 0 && (
          <ul className="grid gap-px bg-line">
            {addresses.map(a => (
              <Address key={a.id} portfolio={portfolio} address={a} onEnd={() => setEnding(a)} />
            ))}
          </ul>
        )}
        <form onSubmit={event => void submit(event)} className="flex flex-wrap items-end gap-3">
          <Field
            label={t('Whom it is for')}
            error={wrong?.fields?.name}
            className="min-w-52 flex-1 sm:max-w-72"
          >
            {ties => (
              <input
                {...ties}
                dir="auto"
                maxLength={LIMITS.name}
                value={name}
                onChange={e => setName(e.target.value)}
                className={inputClass}
              />
            )}
          </Field>
          <Field label={t('It lives for')}>
            {ties => (
              <select
                {...ties}
                value={days}
                onChange={e => setDays(Number(e.target.value))}
                className={inputClass}
              >
                {LENGTHS.map(([value, words]) => (
                  <option key={value} value={value}>
                    {words()}
                  </option>
                ))}
              </select>
            )}
          </Field>
          <Button type="submit" disabled={isLoading}>
            {t('Make an address')}
          </Button>
        </form>
        {wrong && !wrong.fields?.name && <Notice kind="trouble">{wrong.message}</Notice>}
      </div>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      <Confirm
        open={ending !== null}
        onClose={() => setEnding(null)}
        title={t('End the address for {{name}}?', { name: ending?.name ?? '' })}
        yes={t('End it')}
        no={t('Keep it')}
        isGrave
        onYes={() => {
          if (ending) void revoke({ id, addressId: ending.id });
          setEnding(null);
        }}
      >
        {t('Whoever has it sees and hears nothing any more. It stays ended; you can make a new one.')}
      </Confirm>
    </section>
  );
}
