import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { ArrowDown, ArrowUp, Clock4, GripVertical, Trash2 } from 'lucide-react';
import { clock } from '@ecoute/core/timing/words';
import { LIMITS } from '@ecoute/contract/limits';
import type { PortfolioPiece, PortfolioTake } from '@ecoute/contract/portfolios';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { HeardInPlace } from '../../parts/player/HeardInPlace';
import { trackOf } from '../../parts/player/PlayButton';
import { Flag } from '../../parts/StateWord';
import { PiecePicture } from './PiecePicture';
import { dayOf, titleOf } from './pieces';
import { SpokenWords } from './SpokenWords';

/** One recording of a portfolio, with what its student puts beside it. */
export function PieceCard({
  portfolioId,
  piece,
  take,
  isGone,
  place,
  of,
  onChange,
  onMove,
  onTakeOut,
}: {
  portfolioId: string;
  piece: PortfolioPiece;
  take: PortfolioTake | undefined;
  /** Its recording is no longer here. */
  isGone: boolean;
  /** From 1. */
  place: number;
  of: number;
  onChange: (change: Partial<PortfolioPiece>) => void;
  onMove: (by: number) => void;
  onTakeOut: () => void;
}) {
  const { setNodeRef, listeners, transform, transition, isDragging } = useSortable({ id: piece.id });
  const title = titleOf(piece, take) || t('item {{number}}', { number: place });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      aria-label={`${place}. ${title}`}
      className={`grid gap-4 border-s-6 border-petrol bg-sheet p-4 ${isDragging ? 'relative z-10 outline-2 outline-ink' : ''}`}
    >
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <span
          {...listeners}
          aria-hidden
          className="grid size-11 shrink-0 cursor-grab touch-none place-items-center max-sm:hidden"
        >
          <GripVertical className="size-5" />
        </span>
        <span className="tabular text-lg font-semibold">{place}</span>
        {take ? (
          <span className="flex min-w-48 flex-1 items-center gap-3">
            <HeardInPlace
              track={trackOf(take.takeId, title, 'student', take.durationMs)}
              fullMs={take.durationMs ?? 0}
              height={44}
              plays={title}
              label={title}
            />
            <span className="tabular text-sm">{clock(take.durationMs ?? 0)}</span>
          </span>
        ) : (
          <span className="min-w-48 flex-1 text-soft">
            {isGone && t('This recording is no longer here. Others see nothing of it.')}
          </span>
        )}
        <span className="flex max-sm:ms-auto">
          <Button
            look="quiet"
            disabled={place === 1}
            aria-label={t('{{what}}: one place further up', { what: title })}
            onClick={() => onMove(-1)}
          >
            <ArrowUp aria-hidden className="size-5" />
          </Button>
          <Button
            look="quiet"
            disabled={place === of}
            aria-label={t('{{what}}: one place further down', { what: title })}
            onClick={() => onMove(1)}
          >
            <ArrowDown aria-hidden className="size-5" />
          </Button>
          <Button look="quiet" aria-label={t('Take {{what}} out', { what: title })} onClick={onTakeOut}>
            <Trash2 aria-hidden className="size-5" />
          </Button>
        </span>
      </div>
      {take && (
        <p className="-mt-2 flex flex-wrap gap-x-4 text-sm text-soft">
          <span>
            {take.assessment}, {t('item {{number}}', { number: take.itemNumber })} · {take.className} ·{' '}
            {dayOf(take.at)}
          </span>
          {take.state === 'feedbackNotYet' && (
            <Flag icon={Clock4} word={t('others hear it once you have feedback on it')} />
          )}
        </p>
      )}
      <div className="grid gap-4 md:grid-cols-2">
        <div className="grid content-start gap-3">
          <Field label={t('Title')}>
            {ties => (
              <input
                {...ties}
                dir="auto"
                maxLength={LIMITS.title}
                value={piece.title}
                placeholder={take?.assessment}
                onChange={e => onChange({ title: e.target.value })}
                className={inputClass}
              />
            )}
          </Field>
          <Field label={t('What you think of it')}>
            {ties => (
              <textarea
                {...ties}
                rows={3}
                dir="auto"
                maxLength={LIMITS.reply}
                value={piece.words}
                onChange={e => onChange({ words: e.target.value })}
                className={inputClass}
              />
            )}
          </Field>
          <SpokenWords
            portfolioId={portfolioId}
            voiceId={piece.voiceId}
            title={title}
            onVoice={voiceId => onChange({ voiceId })}
          />
        </div>
        <PiecePicture portfolioId={portfolioId} piece={piece} title={title} onChange={onChange} />
      </div>
      {piece.words.length >= LIMITS.reply && (
        <Notice>{t('There is no room for more words here. You can say the rest.')}</Notice>
      )}
    </li>
  );
}
