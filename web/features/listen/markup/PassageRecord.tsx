import { Undo2 } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { useEffect, useMemo, useRef, useState } from 'react';
import { soundingSpan } from '@ecoute/core/audio/peaks';
import {
  BLANK_RECORD,
  MISCUES,
  MISCUE_LETTERS,
  readingFigures,
  toggled,
  wordsOf,
  type Miscue,
  type RunningRecord,
} from '@ecoute/core/feedback/runningRecord';
import { openSuggestions, refusedIn, suggestionsOf, taken } from '@ecoute/core/feedback/suggestions';
import { clock } from '@ecoute/core/timing/words';
import { ALL_PARTS, partsOf, partWithWords, wordsOfPart } from '@ecoute/core/words/parts';
import type { Lane } from '@ecoute/contract/marking';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { Button } from '../../../parts/Button';
import { inputClass } from '../../../parts/Field';
import { MarkedPassage, MISCUE_WORDS } from '../../../parts/markup/MarkedPassage';
import { ReadingFigures } from '../../../parts/markup/ReadingFigures';
import { playFrom, player, usePeaks } from '../../../parts/player/usePlayer';
import { trackOf } from '../../../parts/player/PlayButton';
import { useEvidence } from '../../evidence/endpoints';
import { useWordHeard } from '../../evidence/useWordHeard';
import { MarkupTrouble } from './MarkupTrouble';
import { SuggestedMarks } from './SuggestedMarks';
import { useMarkup } from './useMarkup';

type PassageTool = Miscue | 'last' | 'hear';

const TOOL_KEYS: Record<string, PassageTool> = {
  S: 'substitution',
  O: 'omission',
  I: 'insertion',
  T: 'told',
  C: 'selfCorrection',
  R: 'repetition',
  L: 'last',
  H: 'hear',
};
const MISCUE_KEYS = Object.keys(TOOL_KEYS).slice(0, 6);
const KEY_OF = Object.fromEntries(Object.entries(TOOL_KEYS).map(([key, tool]) => [tool, key]));

/** A word is heard with what led up to it. */
const HEAR_LEAD_MS = 700;
/** A sentence is named by its first and its last words. */
const shortened = (texts: readonly string[]) =>
  texts.length <= 5 ? texts.join(' ') : `${texts.slice(0, 2).join(' ')} … ${texts.slice(-2).join(' ')}`;

/** A running record on the passage of a lane: a click marks a word at the moment that is heard. */
export default function PassageRecord({ lane, stimulus }: { lane: Lane; stimulus: Stimulus }) {
  const markup = useMarkup(
    { sittingId: lane.sittingId, itemId: lane.itemId, targetId: stimulus.id },
    'record',
  );
  const peaks = usePeaks(lane.takeId, lane.durationMs);
  const [tool, setTool] = useState<PassageTool>('substitution');
  const texts = useMemo(
    () => wordsOf(stimulus.text, stimulus.language).flatMap(w => (w.isWord ? [w.text] : [])),
    [stimulus.text, stimulus.language],
  );
  const words = texts.length;
  const measured = useEvidence(lane.takeId, lane.durationMs);
  // What was measured belongs to the passage of the item; another one beside it has no words known.
  const heard =
    measured?.state === 'measured' &&
    measured.evidence.words?.fits &&
    measured.evidence.words.words.length === words
      ? measured.evidence.words
      : null;
  const suggestions = useMemo(
    () =>
      heard
        ? suggestionsOf(
            heard,
            texts.map(w => w.length),
          )
        : [],
    [heard, texts],
  );
  const lit = useWordHeard(lane.takeId, heard?.words ?? null);
  // The same stretch as the figure that is measured: one reading has one number of words a minute.
  const span = measured?.state === 'measured' ? measured.evidence.reading?.spanSec : null;
  const { text, language } = stimulus;
  const parts = useMemo(() => partsOf(text, language), [text, language]);
  const asked = heard?.asked;
  const spoken = useMemo(
    () => (parts && asked ? partWithWords(text, language, asked) : null),
    [parts, asked, text, language],
  );
  const record: RunningRecord = markup.shown ?? {
    ...BLANK_RECORD,
    part: spoken,
    ...(peaks && soundingSpan(peaks)),
    ...(span && { fromMs: Math.round(span[0] * 1000), toMs: Math.round(span[1] * 1000) }),
  };
  const endsMs = span ? Math.round(span[1] * 1000) : (peaks && soundingSpan(peaks).toMs) || null;
  const track = lane.takeId ? trackOf(lane.takeId, lane.studentName, 'student', lane.durationMs) : null;
  const isPresent = () => track !== null && player.now().track?.id === track.id;
  const atMs = () => (isPresent() ? Math.round(player.now().positionMs) : null);
  const hear = (ms: number) => {
    if (!track) return;
    playFrom(track, Math.max(0, ms - HEAR_LEAD_MS));
  };
  const wordMs = (word: number) => {
    const at = heard?.words[word];
    return at ? Math.round(1000 * at.startSec) : null;
  };
  const passage = useRef<HTMLDivElement>(null);
  const latest = useRef<(word: number, as: PassageTool) => void>(() => undefined);
  useEffect(() => {
    latest.current = mark;
  });
  // With Shift a letter marks the word under the pointer or the focus; elsewhere it chooses what the next click says.
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!event.shiftKey || event.ctrlKey || event.metaKey || event.altKey) return;
      if (
        event.target instanceof HTMLElement &&
        event.target.closest('input, textarea, select, [role=dialog]')
      )
        return;
      const chosen = TOOL_KEYS[event.key.toUpperCase()];
      if (!chosen) return;
      event.preventDefault();
      event.stopPropagation();
      const word = passage.current?.querySelector<HTMLElement>(
        '[data-word]:hover, [data-word]:focus-visible',
      );
      if (word) latest.current(Number(word.dataset.word), chosen);
      else setTool(chosen);
    };
    window.addEventListener('keydown', onKey, { capture: true });
    return () => window.removeEventListener('keydown', onKey, { capture: true });
  }, []);
  const mark = (word: number, as: PassageTool) => {
    if (as === 'last')
      markup.change({ ...record, lastWord: record.lastWord === word || word === words - 1 ? null : word });
    else if (as === 'hear') {
      const marked = record.marks.find(m => m.word === word && m.atMs !== null);
      const ms = marked?.atMs ?? wordMs(word);
      if (ms !== null) hear(ms);
    } else markup.change(toggled(record, { word, kind: as, said: '', atMs: wordMs(word) ?? atMs() }));
  };
  const open = openSuggestions(suggestions, record);
  const askedAt = open[0]?.from;
  const shownAt = useRef(askedAt);
  // Only as one is asked after another: opening the record moves nothing.
  useEffect(() => {
    if (shownAt.current !== undefined && askedAt !== shownAt.current)
      passage.current?.querySelector(`[data-word="${askedAt}"]`)?.scrollIntoView({ block: 'nearest' });
    shownAt.current = askedAt;
  }, [askedAt]);
  const said = record.marks
    .map((mark, index) => ({ mark, index }))
    .filter(({ mark }) => ['substitution', 'insertion', 'selfCorrection'].includes(mark.kind));
  const wordAt = (n: number) => (n < 0 ? 'before the first word' : texts[n]);
  return (
    <div className="grid gap-3">
      {parts && (
        <label className="flex flex-wrap items-center gap-2 text-sm">
          Read from the dialogue
          <select
            value={record.part ?? ''}
            onChange={e => markup.change({ ...record, part: e.target.value || null })}
            className={`${inputClass} !w-auto max-w-full`}
          >
            <option value="">all of it, names as well</option>
            <option value={ALL_PARTS}>all parts, without the names</option>
            {parts.map(p => (
              <option key={p.name} value={p.name}>
                the part of {p.name}
              </option>
            ))}
          </select>
        </label>
      )}
      <SuggestedMarks
        open={open}
        wordsOf={(from, to) => shortened(texts.slice(from, to + 1))}
        onHear={s => hear(s.atMs)}
        onTake={s => markup.change(taken(record, s))}
        onRefuse={s => markup.change(refusedIn(record, s))}
      />
      <div className="flex flex-wrap items-center gap-3">
        <ToggleGroup.Root
          type="single"
          aria-label="A click on a word says it was"
          value={tool}
          onValueChange={v => v && setTool(v as PassageTool)}
          className="flex flex-wrap border-2 border-edge"
        >
          {[...MISCUES, 'last' as const, 'hear' as const].map(kind => (
            <ToggleGroup.Item
              key={kind}
              value={kind}
              title={`Shift ${KEY_OF[kind]}`}
              aria-keyshortcuts={`Shift+${KEY_OF[kind]}`}
              className="min-h-10 px-3 data-[state=on]:bg-ink data-[state=on]:text-sheet"
            >
              {kind === 'last' ? (
                'last word read'
              ) : kind === 'hear' ? (
                'hear it'
              ) : (
                <>
                  <span className="tabular me-1 text-xs">{MISCUE_LETTERS[kind]}</span>
                  {MISCUE_WORDS[kind]}
                </>
              )}
            </ToggleGroup.Item>
          ))}
        </ToggleGroup.Root>
        <Button look="quiet" disabled={!markup.mayUndo} onClick={markup.undo}>
          <Undo2 aria-hidden className="size-5" /> Undo
        </Button>
      </div>
      <div ref={passage}>
        <MarkedPassage
          stimulus={stimulus}
          record={record}
          onWord={word => mark(word, tool)}
          lit={lit}
          suggested={open.map((s, i) => ({ from: s.from, to: s.to, isAsked: i === 0 }))}
        />
      </div>
      <p className="text-sm text-soft pointer-coarse:hidden">
        Shift and {MISCUE_KEYS.join(', ')} or L mark the word under the pointer at once.
        {open.length > 0 && ' Shift Y takes what is suggested, Shift N refuses it, Shift W plays it.'}
      </p>
      <ReadingFigures
        figures={readingFigures(
          words,
          record,
          lane.durationMs,
          parts && wordsOfPart(text, language, record.part),
        )}
      />
      <p className="flex flex-wrap items-center gap-x-4 text-sm">
        Read from <span className="tabular">{clock(record.fromMs ?? 0)}</span> to{' '}
        <span className="tabular">{clock(record.toMs ?? lane.durationMs ?? 0)}</span>
        <Button look="quiet" onClick={() => markup.change({ ...record, fromMs: atMs() ?? 0 })}>
          It begins here
        </Button>
        <Button look="quiet" onClick={() => markup.change({ ...record, toMs: atMs() })}>
          It ends here
        </Button>
        {record.lastWord !== null && record.toMs === endsMs && (
          <span>
            ▲ The reading stops early: press It ends here where it does, so that words a minute are right.
          </span>
        )}
      </p>
      {said.length > 0 && (
        <ul aria-label="What was said" className="flex flex-wrap gap-3">
          {said.map(({ mark, index }) => (
            <li key={index} className="flex items-center gap-2 text-sm">
              {mark.atMs !== null && (
                <button
                  type="button"
                  onClick={() => hear(mark.atMs!)}
                  className="tabular underline underline-offset-4"
                >
                  {clock(mark.atMs)}
                </button>
              )}
              <span>
                <span className="tabular">{MISCUE_LETTERS[mark.kind]}</span> {wordAt(mark.word)}
              </span>
              <input
                aria-label={`Said at “${wordAt(mark.word)}”`}
                dir="auto"
                placeholder="said"
                maxLength={120}
                value={mark.said}
                onChange={e =>
                  markup.change({
                    ...record,
                    marks: record.marks.map((m, i) => (i === index ? { ...m, said: e.target.value } : m)),
                  })
                }
                className={`${inputClass} !w-32`}
              />
            </li>
          ))}
        </ul>
      )}
      <MarkupTrouble trouble={markup.trouble} settle={markup.settle} />
    </div>
  );
}
