import { useEffect, useMemo, useState, type KeyboardEvent } from 'react';
import type { Stretch } from '@ecoute/core/audio/activity';
import type { Reading } from '@ecoute/core/audio/reading';
import { wordsOf } from '@ecoute/core/feedback/runningRecord';
import { directionOf } from '@ecoute/core/formats/languages';
import type { KnownText } from '@ecoute/contract/evidence';
import { loadScript } from '../../base/scripts/loadScript';
import { t } from '../../base/i18n';
import { useWordHeard } from './useWordHeard';
import { inFigures } from '../../parts/figureWords';

const PLACES = {
  sentence: () => t('at the end of a sentence'),
  clause: () => t('at a comma'),
  inside: () => t('inside a sentence'),
};
/** Heard from a little before the pause. */
const LEAD_SEC = 1;

/** Heard a little before its word, so that its beginning is not cut. */
const WORD_LEAD_MS = 60;

/**
 * The passage with the pauses of its reader where they were made; those inside a sentence are framed. Pressing one plays it.
 * Where its words are known, each lights up as it plays, and pressing it plays it.
 */
export function PausedPassage({
  passage,
  reading,
  words,
  asked,
  takeId,
  onPlay,
}: {
  passage: Pick<KnownText, 'text' | 'language'>;
  reading: Reading;
  /** When each word is heard, in seconds; null where no word was looked for. */
  words: readonly (Stretch | null)[] | null;
  /** The words of the part that was spoken; null where all were to be. */
  asked: readonly number[] | null;
  takeId: string;
  onPlay: (fromMs: number) => void;
}) {
  useEffect(() => loadScript(passage.language), [passage.language]);
  const pieces = useMemo(() => wordsOf(passage.text, passage.language), [passage.text, passage.language]);
  const lit = useWordHeard(takeId, words);
  // One stop for the keyboard; the arrows go from word to word.
  const [chosen, setStop] = useState(0);
  // A word that is not heard is no stop.
  const stop = words?.[chosen] ? chosen : (words?.findIndex(w => w !== null) ?? 0);
  const onKeyDown = (event: KeyboardEvent<HTMLElement>) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (!step || !(event.target instanceof HTMLElement) || !event.target.dataset.word) return;
    const all = [...event.currentTarget.querySelectorAll<HTMLElement>('[data-word]')];
    const isTurned = getComputedStyle(event.currentTarget).direction === 'rtl';
    const next = all[all.indexOf(event.target) + (isTurned ? -step : step)];
    if (!next) return;
    event.preventDefault();
    event.stopPropagation();
    setStop(Number(next.dataset.word));
    next.focus();
  };
  const wordAt = (text: string, word: number) => {
    const heard = words?.[word];
    if (!heard) return asked?.includes(word) === false ? <span className="text-soft">{text}</span> : text;
    return (
      <button
        type="button"
        data-word={word}
        tabIndex={word === stop ? 0 : -1}
        onClick={() => {
          setStop(word);
          onPlay(Math.max(0, 1000 * heard.startSec - WORD_LEAD_MS));
        }}
        className={`hover:outline-2 hover:outline-edge ${word === lit ? 'bg-petrol-wash' : ''}`}
      >
        {text}
      </button>
    );
  };
  const behind = (word: number) => reading.pauses.filter(p => p.word === word);
  return (
    <div>
      <p
        onKeyDown={onKeyDown}
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
              {piece.isWord ? wordAt(piece.text, piece.index) : piece.text}
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
        {words
          ? t(
              'Press a word to hear it. A reference voice says how the words sound; nothing is written down from the recording.',
            )
          : t('Places are reckoned from syllables, no word is recognised: within a word or so.')}
      </p>
    </div>
  );
}
