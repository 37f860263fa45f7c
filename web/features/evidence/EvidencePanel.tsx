import { useMemo, type ReactNode } from 'react';
import { FIGURES, figuresOf, type Evidence, type Figure } from '@ecoute/core/audio/evidence';
import { placeOf } from '@ecoute/core/audio/figurePlaces';
import type { Usual } from '@ecoute/core/statistics/usual';
import type { KnownText } from '@ecoute/contract/evidence';
import { t } from '../../base/i18n';
import { Button } from '../../parts/Button';
import { Loading } from '../../parts/Loading';
import { lazyPart } from '../../parts/lazyPart';
import { FigureList } from './FigureList';
import { NoCharts } from './NoCharts';
import { NotFetched } from './NotFetched';
import { firstFigures } from '../../parts/figureWords';
import { NoteCells } from './NoteCells';
import { PausedPassage } from './PausedPassage';
import { showPart, useShownPart, type EvidencePart } from './useShownParts';
import type { OtherAnswer } from './otherAnswer';

/** Few answers follow a model. */
const BesideModelView = lazyPart(() => import('./BesideModelView'), {
  waiting: <Loading rows={1} height={160} />,
});

/** Few answers are of several notes at once. */
const BarCells = lazyPart(() => import('./BarCells'), {
  waiting: <Loading rows={1} height={120} />,
  missing: NotFetched,
});

/** Charts are large: fetched when they are first opened. */
const LongViews = lazyPart(() => import('./LongViews'), {
  waiting: <Loading rows={1} height={240} />,
  missing: NoCharts,
});

function Switch({ part, on, children }: { part: EvidencePart; on: boolean; children: ReactNode }) {
  return (
    <Button
      look="quiet"
      aria-pressed={on}
      className="aria-pressed:decoration-ink aria-pressed:decoration-2"
      onClick={() => showPart(part, !on)}
    >
      {children}
      {on ? '' : ` (${t('off')})`}
    </Button>
  );
}

/** Strokes have no pitch, and several notes at once not one. */
const hasPitch = ({ pitch }: Evidence) => pitch.cents.length > 0;

/** Whether the pitch line of a take is shown: for music over a score until somebody switches it off. */
export function usePitchShown(evidence: Evidence | null): boolean {
  const isShown = useShownPart('pitch', evidence?.target != null);
  return isShown && evidence !== null && hasPitch(evidence);
}

/**
 * What is measured of a take, in figures and note by note. The pitch line, which lies under the waveform, is switched here as
 * well.
 */
export function EvidencePanel({
  evidence,
  takeId,
  onPlay,
  usual,
  text,
  others,
  onPick,
  explained,
  hearsModel = true,
}: {
  evidence: Evidence;
  takeId: string;
  /** The same function always. */
  onPlay: (fromMs: number) => void;
  /** For teachers: what is usual among the answers to the item, and those answers. */
  usual?: Partial<Record<Figure, Usual>>;
  others?: readonly OtherAnswer[];
  onPick?: (takeId: string) => void;
  explained?: boolean;
  /** What was read aloud, or said after a model. */
  text?: KnownText | null;
  /** Whether the model beside it may be heard here. */
  hearsModel?: boolean;
}) {
  const figures = useMemo(() => figuresOf(evidence), [evidence]);
  const hearFigure = (figure: Figure) => {
    const sec = placeOf(figure, evidence);
    return sec === null ? null : () => onPlay(1000 * sec);
  };
  const pitch = usePitchShown(evidence);
  const notes = useShownPart('notes', true);
  const more = useShownPart('more');
  const first = firstFigures(figures);
  const reading = evidence.reading?.wordsPerMinute == null ? null : evidence.reading;
  const bars = evidence.target?.followed?.fits ? evidence.target : null;
  const hasNotes = (evidence.notes?.length ?? 0) > 0 || (evidence.target?.notes.length ?? 0) > 0;
  const cells = bars
    ? t('Bar by bar')
    : hasNotes
      ? t('Note by note')
      : reading &&
        text &&
        (text.of === 'model' ? t('Words of the model answer') : t('Pauses in the passage'));
  return (
    <section aria-label={t('Measured')} className="grid grid-cols-1 gap-x-4 gap-y-3">
      <div className="order-2 flex flex-wrap items-center gap-x-2">
        {hasPitch(evidence) && (
          <Switch part="pitch" on={pitch}>
            {t('Pitch line')}
          </Switch>
        )}
        {cells && (
          <Switch part="notes" on={notes}>
            {cells}
          </Switch>
        )}
        <Switch part="more" on={more}>
          {t('Longer views')}
        </Switch>
      </div>
      <div className="grid min-w-0 grid-cols-1 content-start gap-3">
        {evidence.remarks.map(r => (
          <p key={r} className="border-s-4 border-edge ps-3">
            {t(r)}
          </p>
        ))}
        {evidence.beside && (
          <BesideModelView beside={evidence.beside} takeId={takeId} hearsModel={hearsModel} onPlay={onPlay} />
        )}
        <FigureList figures={figures} names={first} usual={usual} explained={explained} onHear={hearFigure} />
        {notes && bars && <BarCells target={bars} takeId={takeId} onPlay={onPlay} />}
        {notes && hasNotes && <NoteCells evidence={evidence} takeId={takeId} onPlay={onPlay} />}
        {notes && reading && text && (
          <PausedPassage
            passage={text}
            reading={reading}
            words={evidence.words?.fits ? evidence.words.words : null}
            asked={evidence.words?.asked ?? null}
            takeId={takeId}
            onPlay={onPlay}
          />
        )}
      </div>
      {more && (
        <div className="grid min-w-0 grid-cols-1 gap-3 sm:col-span-full order-3">
          <FigureList
            figures={figures}
            names={FIGURES.filter(f => !first.includes(f))}
            usual={usual}
            explained={explained}
            onHear={hearFigure}
          />
          <LongViews evidence={evidence} onPlay={onPlay} others={others} onPick={onPick} />
        </div>
      )}
    </section>
  );
}
