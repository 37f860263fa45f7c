import { useEffect, useMemo } from 'react';
import { directionOf } from '@ecoute/core/formats/languages';
import {
  MISCUE_LETTERS,
  wordsOf,
  type Miscue,
  type MiscueMark,
  type RunningRecord,
} from '@ecoute/core/feedback/runningRecord';
import { wordsOfPart } from '@ecoute/core/words/parts';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { loadScript } from '../../base/scripts/loadScript';
import { t } from '../../base/i18n';

/** In words; sentences of the students' screens. */
export const MISCUE_WORDS: Record<Miscue, string> = {
  substitution: 'another word',
  omission: 'left out',
  insertion: 'put in',
  selfCorrection: 'put right',
  told: 'told',
  repetition: 'repeated',
};

function Letters({ marks }: { marks: readonly MiscueMark[] }) {
  return (
    <>
      {marks.map((m, i) => (
        <span key={i} className="tabular font-sans text-base font-semibold text-saffron-ink">
          {m.kind === 'insertion' ? ' ‸' : i > 0 && ' '}
          <sup>
            {MISCUE_LETTERS[m.kind]}
            {m.said && ` ${m.said}`}
          </sup>
          <span className="sr-only">
            {' '}
            ({t(MISCUE_WORDS[m.kind])}
            {m.said && `: ${m.said}`})
          </span>
        </span>
      ))}
    </>
  );
}

/** A passage with what happened to its words when it was read aloud. */
export function MarkedPassage({
  stimulus,
  record,
  onWord,
  lit = -1,
  suggested,
}: {
  stimulus: Pick<Stimulus, 'text' | 'language' | 'words'>;
  record: RunningRecord;
  /** A word was clicked; without this only marked words that have a place in the recording can be. */
  onWord?: (word: number, marks: readonly MiscueMark[]) => void;
  /** The word that is heard now; −1 for none. */
  lit?: number;
  /** Words that something is suggested of: first and last, and whether it is the one that is asked about. */
  suggested?: readonly { from: number; to: number; isAsked: boolean }[];
}) {
  useEffect(() => loadScript(stimulus.language), [stimulus.language]);
  const pieces = useMemo(() => wordsOf(stimulus.text, stimulus.language), [stimulus.text, stimulus.language]);
  const last = record.lastWord ?? Infinity;
  const asked = useMemo(() => {
    const own = wordsOfPart(stimulus.text, stimulus.language, record.part);
    return own && new Set(own);
  }, [stimulus.text, stimulus.language, record.part]);
  return (
    <div
      dir={directionOf(stimulus.language)}
      lang={stimulus.language || undefined}
      className="font-passage text-xl leading-[2.4] whitespace-pre-wrap"
    >
      <Letters marks={record.marks.filter(m => m.word < 0)} />
      {pieces.map((piece, i) => {
        if (!piece.isWord) return <span key={i}>{piece.text}</span>;
        const marks = record.marks.filter(m => m.word === piece.index);
        const isOut = marks.some(m => m.kind === 'omission');
        const offer = suggested?.find(s => piece.index >= s.from && piece.index <= s.to);
        const look = `${offer ? `underline decoration-dashed decoration-2 underline-offset-8 ${offer.isAsked ? 'decoration-ink outline-2 outline-dashed outline-ink' : 'decoration-edge'}` : ''} ${
          piece.index === lit ? 'bg-petrol-wash' : ''
        } ${isOut ? 'line-through' : ''} ${marks.length > 0 ? 'bg-saffron-wash' : ''} ${
          piece.index > last ? 'text-soft opacity-60' : asked?.has(piece.index) === false ? 'text-soft' : ''
        } ${piece.index === last ? 'border-e-4 border-ink pe-1' : ''}`;
        return (
          <span key={i}>
            {onWord ? (
              <button
                type="button"
                data-word={piece.index}
                onClick={() => onWord(piece.index, marks)}
                className={`${look} scroll-mt-28 hover:outline-2 hover:outline-edge`}
              >
                {piece.text}
              </button>
            ) : (
              <span className={look}>{piece.text}</span>
            )}
            <Letters marks={marks} />
          </span>
        );
      })}
    </div>
  );
}
