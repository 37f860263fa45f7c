import { useId, useState } from 'react';
import type { Figure, Figures } from '@ecoute/core/audio/evidence';
import type { Usual } from '@ecoute/core/statistics/usual';
import { lazyPart } from '../../parts/lazyPart';
import { NotFetched } from './NotFetched';
import { FIGURE_WORDS, figureText, figureWords } from '../../parts/figureWords';

/** Words of all figures: fetched when the first is asked for. */
const FigureMeaning = lazyPart(() => import('./FigureMeaning'), { missing: NotFetched });

/** Where a value lies among the others: the thick part is the middle half of them. */
function Among({ value, usual }: { value: number; usual: Usual }) {
  const low = Math.min(usual.lowest, value);
  const width = Math.max(usual.highest, value) - low || 1;
  const at = (v: number) => 3 + (94 * (v - low)) / width;
  return (
    <svg aria-hidden viewBox="0 0 100 10" preserveAspectRatio="none" className="mt-1 h-2.5 w-full">
      <path d={`M${at(usual.lowest)} 5H${at(usual.highest)}`} className="stroke-edge" />
      <path d={`M${at(usual.low)} 5H${at(usual.high)}`} strokeWidth={5} className="stroke-edge" />
      <rect x={at(value) - 1.5} y={0} width={3} height={10} className="fill-petrol-ink" />
    </svg>
  );
}

/** The middle half in words; one value where it is all the same. */
function usualWords(name: Figure, { low, high }: Usual): string {
  const [from, to] = [figureText(name, low), figureText(name, high)];
  return from === to ? from : `${from} to ${to}`;
}

/** Figures of a take: with what is usual among the answers beside it, and with another take's, where they are there. */
export function FigureList({
  figures,
  names,
  usual = {},
  before,
  explained,
  onHear,
}: {
  figures: Figures;
  names: readonly Figure[];
  usual?: Partial<Record<Figure, Usual>>;
  /** The same figures of another take, and what that is called. */
  before?: { figures: Figures; title: string } | null;
  /** Whether a press on a name tells what it is. */
  explained?: boolean;
  /** Plays a place where a figure can be heard; null where there is none. */
  onHear?: (figure: Figure) => (() => void) | null;
}) {
  const id = useId();
  const [asked, setAsked] = useState<Figure | null>(null);
  const list = (
    <dl className="grid grid-cols-[repeat(auto-fill,minmax(8.5rem,1fr))] gap-x-4 gap-y-3">
      {names.map(name => {
        const value = figures[name];
        if (value === undefined) return null;
        const { unit } = FIGURE_WORDS[name];
        const others = usual[name];
        const earlier = before?.figures[name];
        return (
          <div key={name} className="flex flex-col">
            <dt className="order-2 text-sm leading-tight text-soft">
              {explained ? (
                <button
                  type="button"
                  aria-expanded={asked === name}
                  aria-controls={asked === name ? id : undefined}
                  onClick={() => setAsked(asked === name ? null : name)}
                  className="min-h-6 text-start underline decoration-dotted underline-offset-3 aria-expanded:text-ink aria-expanded:decoration-solid"
                >
                  {FIGURE_WORDS[name].name()}
                </button>
              ) : (
                FIGURE_WORDS[name].name()
              )}
            </dt>
            <dd className="order-1 m-0">
              <span className="tabular text-xl">{figureText(name, value)}</span>
              {unit && <span className="text-sm"> {unit()}</span>}
              {earlier !== undefined && before && (
                <span className="block text-sm">
                  {before.title}: <span className="tabular">{figureWords(name, earlier)}</span>
                </span>
              )}
            </dd>
            {others && (
              <dd className="order-3 m-0">
                <Among value={value} usual={others} />
                <span className="block text-xs text-soft">most others: {usualWords(name, others)}</span>
              </dd>
            )}
          </div>
        );
      })}
    </dl>
  );
  return (
    <>
      {list}
      {asked && explained && figures[asked] !== undefined && (
        <FigureMeaning figure={asked} id={id} onHear={onHear?.(asked) ?? null} />
      )}
    </>
  );
}
