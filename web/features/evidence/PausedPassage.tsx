import { useEffect, useMemo } from 'react';
import type { Reading } from '@ecoute/core/audio/reading';
import { wordsOf } from '@ecoute/core/feedback/runningRecord';
import { directionOf } from '@ecoute/core/formats/languages';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { loadScript } from '../../base/scripts/loadScript';
import { t } from '../../base/i18n';
import { inFigures } from '../../parts/figureWords';

const PLACES = {
  sentence: () => t('at the end of a sentence'),
  clause: () => t('at a comma'),
  inside: () => t('inside a sentence'),
};
/** Heard from a little before the pause. */
const LEAD_SEC = 1;

/** The passage with the pauses of its reader where they were made; those inside a sentence are framed. Pressing one plays it. */
export function PausedPassage({
  passage,
  reading,
  onPlay,
}: {
  passage: Pick<Stimulus, 'text' | 'language'>;
  reading: Reading;
  onPlay: (fromMs: number) => void;
}) {
  useEffect(() => loadScript(passage.language), [passage.language]);
  const pieces = useMemo(() => wordsOf(passage.text, passage.language), [passage.text, passage.language]);
  const behind = (word: number) => reading.pauses.filter(p => p.word === word);
  return (
    <div>
      <p
        dir={directionOf(passage.language)}
        lang={passage.language || undefined}
        className="max-h-72 overflow-y-auto font-passage text-lg leading-loose whitespace-pre-wrap relative"
      >
        {pieces.map((piece, i) => {
          const next = pieces[i + 1];
          // Behind the word's comma or full stop, but before the space.
          const isLast = !next || next.isWord || /^\s/.test(next.text) || next.index !== piece.index;
          const pauses = isLast && !/^\s+$/.test(piece.text) ? behind(piece.index) : [];
          return (
            <span key={i}>
              {piece.text}
              {pauses.map(p => (
                <button
                  key={p.startSec}
                  type="button"
                  onClick={() => onPlay(1000 * Math.max(0, p.startSec - LEAD_SEC))}
                  aria-label={t('Pause of {{length}} s {{place}}', {
                    length: inFigures(p.endSec - p.startSec, 1),
                    place: PLACES[p.place](),
                  })}
                  className={`tabular mx-0.5 px-1 font-sans text-xs text-petrol-ink ${
                    p.place === 'inside' ? 'border-2 border-petrol-ink font-semibold' : 'bg-petrol-wash'
                  }`}
                >
                  {inFigures(p.endSec - p.startSec, 1)}
                </button>
              ))}
            </span>
          );
        })}
      </p>
      <p className="mt-1 text-sm text-soft">
        {t('Places are reckoned from syllables, no word is recognised: within a word or so.')}
      </p>
    </div>
  );
}
