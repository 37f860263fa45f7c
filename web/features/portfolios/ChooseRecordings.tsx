import { Check, Plus } from 'lucide-react';
import { useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { PortfolioPiece } from '@ecoute/contract/portfolios';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { useMyRecordingsQuery } from '../sit/endpoints';
import { dayOf, pieceOf } from './pieces';

const plain = (words: string) => words.normalize('NFD').replace(/\p{M}/gu, '').toLocaleLowerCase();

/** All that somebody recorded, to hear and to put in. */
export function ChooseRecordings({
  chosen,
  onChoose,
}: {
  chosen: ReadonlySet<string>;
  onChoose: (piece: PortfolioPiece) => void;
}) {
  const { data, error, refetch } = useMyRecordingsQuery();
  const [words, setWords] = useState('');
  if (!data) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading height={60} />;
  const found = data.filter(
    r =>
      r.durationMs !== null &&
      plain(`${r.assessment} ${r.promptText} ${r.title} ${r.className}`).includes(plain(words.trim())),
  );
  return (
    <div className="grid gap-3 border-2 border-edge p-3">
      <Field label={t('Search')}>
        {ties => (
          <input
            {...ties}
            type="search"
            dir="auto"
            value={words}
            onChange={e => setWords(e.target.value)}
            className={inputClass}
          />
        )}
      </Field>
      {found.length === 0 ? (
        <p className="text-soft">{t('No recording is found.')}</p>
      ) : (
        <ul className="grid max-h-96 gap-px overflow-y-auto bg-line">
          {found.map(r => {
            const what = `${r.assessment}, ${t('item {{item}}, take {{take}}', { item: r.itemNumber, take: r.takeNumber })}`;
            return (
              <li key={r.takeId} className="flex flex-wrap items-center gap-x-3 gap-y-1 bg-sheet px-3 py-2">
                <PlayButton track={trackOf(r.takeId, what, 'student', r.durationMs)} label={what} />
                <span className="min-w-0 flex-1 basis-40">
                  <span className="block font-semibold">{what}</span>
                  <span className="block truncate text-sm text-soft">
                    {dayOf(r.beganAt)} · {clock(r.durationMs ?? 0)}
                    {r.promptText && ` · ${r.promptText}`}
                  </span>
                  {!r.hasFeedback && (
                    <span className="block text-sm">{t('others hear it once you have feedback on it')}</span>
                  )}
                </span>
                {chosen.has(r.takeId) ? (
                  <span className="flex min-h-11 items-center gap-2 px-2 text-sm">
                    <Check aria-hidden className="size-5" /> {t('it is in')}
                  </span>
                ) : (
                  <Button
                    aria-label={t('Put in {{what}}', { what })}
                    onClick={() => onChoose(pieceOf(r.takeId, r.pictureId))}
                  >
                    <Plus aria-hidden className="size-5" /> {t('Put in')}
                  </Button>
                )}
              </li>
            );
          })}
        </ul>
      )}
    </div>
  );
}
