import { Play } from 'lucide-react';
import type { Figure } from '@ecoute/core/audio/evidence';
import { Button } from '../../parts/Button';
import { FIGURE_WORDS } from '../../parts/figureWords';
import { FIGURE_EXPLAINED } from './figureExplained';

/** What a figure is, what is usual, what to listen for, and its place. Fetched when somebody asks. */
export default function FigureMeaning({
  figure,
  id,
  onHear,
}: {
  figure: Figure;
  id: string;
  /** Plays where it can be heard; null where no place shows it. */
  onHear: (() => void) | null;
}) {
  const { is, usual, listen } = FIGURE_EXPLAINED[figure];
  return (
    <div id={id} role="status" className="border-s-4 border-edge ps-3 text-sm">
      <p>
        <strong>{FIGURE_WORDS[figure].name()}</strong>: {is}
      </p>
      <p>
        <strong>Usual</strong>: {usual}
      </p>
      <p>
        <strong>Listen for</strong>: {listen}
      </p>
      {onHear && (
        <Button look="quiet" onClick={onHear}>
          <Play aria-hidden size={16} /> Hear the place
        </Button>
      )}
    </div>
  );
}
