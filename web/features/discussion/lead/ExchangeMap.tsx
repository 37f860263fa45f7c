import { useMemo, useState } from 'react';
import { exchangesOf, type Exchange } from '@ecoute/core/discussions/talk';
import type { InDiscussion } from '@ecoute/contract/discussions';
import { inTurn, type InLine } from '../../../parts/player/inTurn';
import { Button } from '../../../parts/Button';
import { isHearable, trackOfContribution, type Spoken } from '../said';

const SIZE = 320;
const RING = 112;
/** Pairs that are listed before the rest is asked for. */
const LISTED = 8;

/** First letters, as short as a name on a small map can be. */
const shortName = (name: string) =>
  name
    .split(/\s+/)
    .map(part => part[0] ?? '')
    .join('')
    .slice(0, 3);

/** Who answers whom: a line for each pair, thicker the more replies; each is heard with the moment that it is about. */
export function ExchangeMap({ people, said }: { people: readonly InDiscussion[]; said: readonly Spoken[] }) {
  const [all, setAll] = useState(false);
  const exchanges = useMemo(() => exchangesOf(said.filter(s => s.state === 'here')), [said]);
  const names = useMemo(() => {
    const known = new Map(people.map(p => [p.author, p.name]));
    for (const s of said) if (!known.has(s.author)) known.set(s.author, s.authorName);
    return known;
  }, [people, said]);
  const ring = [...names.keys()];
  const at = (author: string) => {
    const angle = (2 * Math.PI * ring.indexOf(author)) / Math.max(1, ring.length) - Math.PI / 2;
    return { x: SIZE / 2 + RING * Math.cos(angle), y: SIZE / 2 + RING * Math.sin(angle) };
  };
  const play = ({ from, to, replies }: Exchange<Spoken>) => {
    const byId = new Map(said.map(s => [s.id, s]));
    const tracks = replies.filter(isHearable).flatMap((r): InLine[] => {
      const parent = byId.get(r.parentId ?? '');
      const moment =
        parent && isHearable(parent) && r.fromMs !== null && r.toMs !== null
          ? [{ ...trackOfContribution(parent), stretch: { fromMs: r.fromMs, toMs: r.toMs } }]
          : [];
      return [...moment, trackOfContribution(r)];
    });
    inTurn.begin(`${names.get(from)} to ${names.get(to)}`, tracks);
  };
  if (exchanges.length === 0) return <p className="text-soft">Nobody has answered anybody yet.</p>;
  const most = exchanges[0]!.replies.length;
  return (
    <div className="grid gap-3">
      {/* The same is in the list below, for keys and screen readers. */}
      <svg aria-hidden viewBox={`0 0 ${SIZE} ${SIZE}`} className="mx-auto w-full max-w-xs">
        {exchanges.map(e => {
          const [a, b] = [at(e.from), at(e.to)];
          // Bent to one side, so that there and back are two lines.
          const [mx, my] = [(a.x + b.x) / 2 + (b.y - a.y) * 0.12, (a.y + b.y) / 2 - (b.x - a.x) * 0.12];
          return (
            <path
              key={`${e.from} ${e.to}`}
              d={`M${a.x} ${a.y}Q${mx} ${my} ${b.x} ${b.y}`}
              fill="none"
              strokeWidth={1.5 + (5 * e.replies.length) / most}
              className="cursor-pointer stroke-petrol hover:stroke-ink"
              onClick={() => play(e)}
            />
          );
        })}
        {ring.map(author => {
          const { x, y } = at(author);
          return (
            <g key={author}>
              <circle cx={x} cy={y} r={15} className="fill-sheet stroke-ink" strokeWidth={1.5} />
              <text x={x} y={y + 4} textAnchor="middle" fontSize={11} className="fill-ink">
                {shortName(names.get(author) ?? '')}
              </text>
            </g>
          );
        })}
      </svg>
      <ul className="grid gap-1">
        {exchanges.slice(0, all ? undefined : LISTED).map(e => (
          <li key={`${e.from} ${e.to}`}>
            <button
              type="button"
              onClick={() => play(e)}
              className="flex min-h-9 w-full items-baseline gap-2 text-start hover:bg-sunk"
            >
              <span className="min-w-0 flex-1">
                {names.get(e.from)} <span className="text-soft">to</span> {names.get(e.to)}
              </span>
              <span className="tabular underline underline-offset-4">
                {e.replies.length === 1 ? 'hear it' : `hear ${e.replies.length}`}
              </span>
            </button>
          </li>
        ))}
      </ul>
      {!all && exchanges.length > LISTED && (
        <Button look="quiet" className="justify-self-start" onClick={() => setAll(true)}>
          All {exchanges.length} pairs
        </Button>
      )}
    </div>
  );
}
