import { useMemo } from 'react';
import { FIGURES, figuresOf } from '@ecoute/core/audio/evidence';
import type { Beside, Lane } from '@ecoute/contract/marking';
import { useEvidence } from '../evidence/endpoints';
import { FigureList } from '../evidence/FigureList';

/** The figures of an answer with those of what lies beside it; nothing until both are measured. */
export function BesideFigures({ lane, other, title }: { lane: Lane; other: Beside; title: string }) {
  const now = useEvidence(lane.takeId, lane.durationMs);
  const before = useEvidence(other.takeId, other.durationMs);
  const figures = useMemo(() => (now?.state === 'measured' ? figuresOf(now.evidence) : null), [now]);
  const earlier = useMemo(
    () => (before?.state === 'measured' ? { figures: figuresOf(before.evidence), title } : null),
    [before, title],
  );
  if (!figures || !earlier) return null;
  const both = FIGURES.filter(f => figures[f] !== undefined && earlier.figures[f] !== undefined);
  if (both.length === 0) return null;
  return (
    <div
      role="group"
      aria-label={`Figures beside those of ${title}`}
      className="mt-2 border-s-4 border-edge ps-3"
    >
      <FigureList figures={figures} names={both} before={earlier} />
    </div>
  );
}
