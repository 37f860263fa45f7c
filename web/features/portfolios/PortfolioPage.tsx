import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { arrayMove, SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Download, FileArchive } from 'lucide-react';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { LIMITS } from '@ecoute/contract/limits';
import { PortfolioContent, type PortfolioPiece, type PortfolioView } from '@ecoute/contract/portfolios';
import { check } from '@ecoute/contract/validation';
import { refusalOf } from '../../base/api';
import { ownKey } from '../../base/own';
import { announce } from '../../base/announce';
import { screenLanguage, t } from '../../base/i18n';
import { Kept, type KeptState } from '../../base/kept/kept';
import { useKept } from '../../base/kept/useKept';
import { useTitle } from '../../base/useTitle';
import { Button, buttonClass } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Failed, Loading } from '../../parts/Loading';
import { Notice } from '../../parts/Notice';
import { Toasts } from '../../parts/Toasts';
import { ChooseRecordings } from './ChooseRecordings';
import { usePortfolioQuery, useRemovePortfolioMutation, useSavePortfolioMutation } from './endpoints';
import { PieceCard } from './PieceCard';
import { moved, putBack, titleOf } from './pieces';
import { Sharing } from './Sharing';

const PAUSE_MS = 700;

export function PortfolioPage() {
  const { id } = useParams();
  const { data, currentData, error, refetch } = usePortfolioQuery(id!, { refetchOnMountOrArgChange: true });
  const portfolio = currentData ?? (data?.id === id ? data : undefined);
  useTitle(portfolio?.content.title ?? t('Portfolios'));
  if (!portfolio) return error ? <Failed error={error} again={() => void refetch()} /> : <Loading />;
  return <PortfolioEditor key={portfolio.id} portfolio={portfolio} />;
}

/** A portfolio that is saved as it is typed; another page's change in between is settled by its student. */
function useContent(portfolio: PortfolioView) {
  const [save] = useSavePortfolioMutation();
  const [view, kept] = useKept<PortfolioContent>(
    `ecoute-portfolio-${portfolio.id}`,
    shelf =>
      new Kept({
        stored: { value: portfolio.content, revision: portfolio.revision },
        send: async (content, revision) => {
          const back = await save({ id: portfolio.id, revision, content }).unwrap();
          return { value: content, revision: back.revision };
        },
        theirs: ({ current }) => {
          const now = current as { content: PortfolioContent; revision: number } | undefined;
          return now ? { value: now.content, revision: now.revision } : null;
        },
        problem: content => {
          const { fields } = check(PortfolioContent, content);
          return fields
            ? { status: 0, code: 'invalid', message: Object.values(fields)[0] ?? '', fields }
            : null;
        },
        shelf,
        pauseMs: PAUSE_MS,
      }),
  );
  // What another page of one's own has saved.
  useEffect(() => {
    kept.offer({ value: portfolio.content, revision: portfolio.revision });
  }, [kept, portfolio]);
  const change = useCallback(
    (next: (content: PortfolioContent) => PortfolioContent) => kept.change(next(kept.now().value)),
    [kept],
  );
  return { ...view, change, settle: (keep: 'here' | 'stored') => void kept.settle(keep) };
}

const SAVED: Partial<Record<KeptState, () => string>> = {
  changed: () => t('Saved as you type'),
  saving: () => t('Saving …'),
  saved: () => t('Saved'),
  still: () => t('Saved as you type'),
  away: () => t('Kept on this device; saved when Ecoute answers again'),
};

/** What was just taken away: the piece as it was, and its place where all of it is out. */
interface Undoable {
  says: string;
  piece: PortfolioPiece;
  /** Null where the piece itself stays. */
  place: number | null;
}

/** What of a piece goes with a change: its picture or what was said, with words that say so. */
function gone(piece: PortfolioPiece, part: Partial<PortfolioPiece>, title: string): Undoable | null {
  const { pictureId, voiceId } = piece;
  const what = { what: title };
  const undoable = (says: string): Undoable => ({ says, piece, place: null });
  if (voiceId && part.voiceId !== undefined && part.voiceId !== voiceId)
    return undoable(
      part.voiceId
        ? t('What you said of {{what}} before is replaced.', what)
        : t('What you said of {{what}} is left out.', what),
    );
  if (pictureId && part.pictureId !== undefined && part.pictureId !== pictureId)
    return undoable(
      part.pictureId
        ? t('The picture of {{what}} is replaced.', what)
        : t('The picture of {{what}} is taken away.', what),
    );
  return null;
}

/** The pieces with what was taken away back in its place. */
function undone(pieces: PortfolioPiece[], { piece, place }: Undoable): PortfolioPiece[] {
  if (place !== null) return putBack(pieces, piece, place);
  const { voiceId, pictureId, pictureWords } = piece;
  return pieces.map(p => (p.id === piece.id ? { ...p, voiceId, pictureId, pictureWords } : p));
}

/** The last thing that was taken away, also after the page was left; until it is had back or closed. */
function useUndoable(portfolioId: string) {
  const key = ownKey(`ecoute-portfolio-undo-${portfolioId}`);
  const [undoable, setUndoable] = useState<Undoable | null>(() => {
    try {
      return JSON.parse(localStorage.getItem(key) ?? 'null') as Undoable | null;
    } catch {
      return null;
    }
  });
  const keep = (next: Undoable | null) => {
    setUndoable(next);
    try {
      if (next) localStorage.setItem(key, JSON.stringify(next));
      else localStorage.removeItem(key);
    } catch {
      // A device that keeps nothing: it is on the page.
    }
  };
  return [undoable, keep] as const;
}

function PortfolioEditor({ portfolio }: { portfolio: PortfolioView }) {
  const { value: content, state, refusal, change, settle } = useContent(portfolio);
  const [choosing, setChoosing] = useState(portfolio.content.pieces.length === 0);
  const [undoable, setUndoable] = useUndoable(portfolio.id);
  const [remove, { error: notRemoved }] = useRemovePortfolioMutation();
  const navigate = useNavigate();
  const title = useRef<HTMLInputElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 4 } }));
  const { pieces } = content;
  const takeOf = (piece: PortfolioPiece) => portfolio.takes.find(x => x.takeId === piece.takeId);
  const setPieces = (next: (pieces: PortfolioPiece[]) => PortfolioPiece[]) =>
    change(c => ({ ...c, pieces: next(c.pieces) }));
  /** Not known yet is not gone: the server says so with the next save. */
  const isStored = (piece: PortfolioPiece) => portfolio.content.pieces.some(p => p.id === piece.id);
  const throwAway = async () => {
    const done = await remove(portfolio.id);
    if (!done.error) void navigate('/recordings/portfolios');
  };
  return (
    <section className="mx-auto max-w-5xl">
      <p className="text-sm">
        <Link to="/recordings/portfolios" className="underline underline-offset-4">
          {t('Portfolios')}
        </Link>
      </p>
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h1 dir="auto" className="text-3xl">
          {content.title.trim() || t('Portfolio')}
        </h1>
        <p role="status" className="text-sm text-soft">
          {SAVED[state]?.()}
        </p>
      </div>
      {state === 'conflict' && (
        <div className="mt-3">
          <Notice
            kind="trouble"
            action={
              <span className="flex flex-wrap gap-2">
                <Button look="main" onClick={() => settle('here')}>
                  {t('Keep what is written here')}
                </Button>
                <Button onClick={() => settle('stored')}>{t('Take what was saved elsewhere')}</Button>
              </span>
            }
          >
            {t('This was changed on another page meanwhile. Choose which of the two stays.')}
          </Notice>
        </div>
      )}
      {state === 'refused' && refusal && (
        <div className="mt-3">
          <Notice kind="trouble">{refusal.message}</Notice>
        </div>
      )}
      <div className="mt-4 grid gap-4 md:grid-cols-2">
        <Field label={t('Title of the portfolio')} error={refusal?.fields?.title}>
          {ties => (
            <input
              {...ties}
              ref={title}
              dir="auto"
              maxLength={LIMITS.title}
              value={content.title}
              onChange={e => change(c => ({ ...c, title: e.target.value }))}
              className={inputClass}
            />
          )}
        </Field>
        <Field label={t('Words at its beginning')}>
          {ties => (
            <textarea
              {...ties}
              rows={2}
              dir="auto"
              maxLength={LIMITS.reply}
              value={content.words}
              onChange={e => change(c => ({ ...c, words: e.target.value }))}
              className={inputClass}
            />
          )}
        </Field>
      </div>
      <h2 className="mt-6 text-xl">{t('Recordings')}</h2>
      {pieces.length === 0 && <p className="mt-2 text-soft">{t('Choose the first one below.')}</p>}
      <DndContext
        sensors={sensors}
        collisionDetection={closestCenter}
        accessibility={{ announcements: SILENT }}
        onDragEnd={({ active, over }) => {
          if (over && active.id !== over.id)
            setPieces(all => {
              const at = (x: unknown) => all.findIndex(p => p.id === x);
              return arrayMove(all, at(active.id), at(over.id));
            });
        }}
      >
        <SortableContext items={pieces.map(p => p.id)} strategy={verticalListSortingStrategy}>
          <ol className="mt-3 grid gap-3">
            {pieces.map((piece, i) => (
              <PieceCard
                key={piece.id}
                portfolioId={portfolio.id}
                piece={piece}
                take={takeOf(piece)}
                isGone={isStored(piece) && !takeOf(piece)}
                place={i + 1}
                of={pieces.length}
                onChange={part => {
                  const taken = gone(piece, part, titleOf(piece, takeOf(piece)));
                  if (taken) setUndoable(taken);
                  setPieces(all => all.map(p => (p.id === piece.id ? { ...p, ...part } : p)));
                }}
                onMove={by => {
                  setPieces(all => moved(all, piece.id, by));
                  announce(
                    t('{{what}} is number {{number}} now.', {
                      what: titleOf(piece, takeOf(piece)),
                      number: i + 1 + by,
                    }),
                  );
                }}
                onTakeOut={() => {
                  setUndoable({
                    says: t('“{{what}}” is out, with what you put beside it. The recording itself stays.', {
                      what: titleOf(piece, takeOf(piece)),
                    }),
                    piece,
                    place: i,
                  });
                  setPieces(all => all.filter(p => p.id !== piece.id));
                }}
              />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
      <div className="mt-4 grid gap-3">
        {choosing ? (
          <ChooseRecordings
            chosen={new Set(pieces.map(p => p.takeId))}
            onChoose={piece => setPieces(all => [...all, piece])}
          />
        ) : null}
        <Button
          className="justify-self-start"
          aria-expanded={choosing}
          onClick={() => setChoosing(!choosing)}
        >
          {choosing ? t('That is all') : t('Choose recordings …')}
        </Button>
      </div>
      <Sharing portfolio={portfolio} />
      <section aria-labelledby="along" className="mt-8 grid gap-3">
        <h2 id="along" className="text-xl">
          {t('Take it along')}
        </h2>
        <p className="flex flex-wrap gap-2">
          <a
            href={`/api/portfolios/${portfolio.id}/portfolio.zip?language=${screenLanguage()}`}
            className={buttonClass()}
          >
            <FileArchive aria-hidden className="size-5" /> {t('All of it, to play without a network (ZIP)')}
          </a>
          <a
            href={`/api/portfolios/${portfolio.id}/portfolio.pdf?language=${screenLanguage()}`}
            className={buttonClass()}
          >
            <Download aria-hidden className="size-5" /> {t('On paper (PDF)')}
          </a>
          <Button look="quiet" onClick={() => void throwAway()}>
            {t('Throw this portfolio away')}
          </Button>
        </p>
        {refusalOf(notRemoved) && <Notice kind="trouble">{refusalOf(notRemoved)!.message}</Notice>}
      </section>
      {undoable && (
        <Toasts>
          <Notice
            action={
              <span className="flex gap-2">
                <Button
                  look="main"
                  onClick={() => {
                    setPieces(all => undone(all, undoable));
                    setUndoable(null);
                  }}
                >
                  {t('Undo')}
                </Button>
                <Button look="quiet" onClick={() => setUndoable(null)}>
                  {t('Close')}
                </Button>
              </span>
            }
          >
            {undoable.says}
          </Notice>
        </Toasts>
      )}
    </section>
  );
}

/** Dragging is for pointers; the arrow buttons say where a piece is. */
const SILENT = {
  onDragStart: () => undefined,
  onDragOver: () => undefined,
  onDragEnd: () => undefined,
  onDragCancel: () => undefined,
};
