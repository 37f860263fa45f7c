import { FolderHeart } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { LIMITS } from '@ecoute/contract/limits';
import type { StudentPortfolios } from '@ecoute/contract/portfolios';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { counted } from '../../parts/counted';
import { inputClass } from '../../parts/Field';
import { useSuggestMutation, useTakeBackSuggestionMutation } from './endpoints';

/** Portfolios that a student shows to this teacher. */
export function ShownPortfolios({ of, path }: { of: StudentPortfolios | undefined; path: string }) {
  if (!of || of.portfolios.length === 0) return null;
  return (
    <p className="mb-4 flex flex-wrap items-center gap-x-5 gap-y-1">
      <FolderHeart aria-hidden className="size-5" />
      {of.portfolios.map(p => (
        <Link
          key={p.id}
          to={`${path}/portfolios/${p.id}`}
          dir="auto"
          className="underline underline-offset-4"
        >
          {p.title} ({counted(p.pieces, 'recording')})
        </Link>
      ))}
    </p>
  );
}

const SAID = { taken: 'in their portfolio', declined: 'suggested; not wanted' } as const;

/** Suggests one recording for its student’s portfolio, with a word why; taken back as long as nobody has answered. */
export function Suggest({
  sittingId,
  takeId,
  what,
  state,
}: {
  sittingId: string;
  takeId: string;
  what: string;
  state: StudentPortfolios['suggested'][number]['state'] | null;
}) {
  const [words, setWords] = useState<string | null>(null);
  const [suggest, { error, isLoading }] = useSuggestMutation();
  const [takeBack] = useTakeBackSuggestionMutation();
  const send = async () => {
    const done = await suggest({ sittingId, takeId, words: words ?? '' });
    if (!done.error) setWords(null);
  };
  if (state === 'taken' || state === 'declined')
    return <span className="text-sm text-soft">{SAID[state]}</span>;
  if (state === 'open')
    return (
      <span className="text-sm text-soft">
        suggested for a portfolio{' '}
        <button
          type="button"
          aria-label={`Take back the suggestion of ${what}`}
          onClick={() => void takeBack(takeId)}
          className="min-h-9 underline underline-offset-4"
        >
          Take back
        </button>
      </span>
    );
  if (words === null)
    return (
      <Button look="quiet" aria-label={`For a portfolio: suggest ${what}`} onClick={() => setWords('')}>
        For a portfolio …
      </Button>
    );
  return (
    <form
      className="grid gap-1 text-start"
      onSubmit={event => {
        event.preventDefault();
        void send();
      }}
    >
      <textarea
        aria-label={`Why ${what} belongs in their portfolio`}
        placeholder="Why? (if you like)"
        autoFocus
        rows={2}
        maxLength={LIMITS.reason}
        value={words}
        onChange={e => setWords(e.target.value)}
        onKeyDown={e => e.key === 'Escape' && setWords(null)}
        className={inputClass}
      />
      <span className="flex gap-1">
        <Button type="submit" look="main" disabled={isLoading} className="px-2">
          Suggest it
        </Button>
        <Button look="quiet" className="px-2" onClick={() => setWords(null)}>
          No
        </Button>
      </span>
      {error && (
        <span role="alert" className="text-sm font-semibold">
          {refusalOf(error)?.message}
        </span>
      )}
    </form>
  );
}
