import { Search } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { memo, useMemo, type Ref } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import { inputClass } from '../../parts/Field';
import { FILTER_WORDS, filtersOf, type LaneFilter, type Narrowed } from './laneFilters';

/** A class of so many is looked through at a glance. */
const NAMES_FROM = 8;

/** Narrows the lanes down to what is waiting, late, to record again …, each with how many students it is, and to a name. */
export const LaneFilters = memo(function LaneFilters({
  lanes,
  narrowed,
  field,
  onNarrow,
  onEnter,
}: {
  lanes: readonly Lane[];
  narrowed: Narrowed;
  /** Where a name is typed. */
  field: Ref<HTMLInputElement>;
  onNarrow: (narrowed: Narrowed) => void;
  /** To the first that is found. */
  onEnter: () => void;
}) {
  const { filters, who } = narrowed;
  const found = useMemo(() => filtersOf(lanes), [lanes]);
  // One that finds nobody any more goes on showing while it is on, so that it can be taken off.
  const offered = found.map(f => f.filter);
  const gone = filters.filter(f => !offered.includes(f)).map(filter => ({ filter, sittings: 0 }));
  const some = [...found, ...gone].filter(f => f.filter !== 'all');
  const isMany = (found[0]?.sittings ?? 0) >= NAMES_FROM;
  if (some.length < 2 && !isMany && filters.length === 0) return null;
  const itemClass =
    'min-h-10 border-b-3 border-transparent aria-pressed:border-ink aria-pressed:font-semibold data-[state=on]:border-ink data-[state=on]:font-semibold';
  return (
    <div role="group" aria-label="Show lanes" className="flex flex-wrap items-center gap-x-5 gap-y-1">
      <button
        type="button"
        aria-pressed={filters.length === 0 && who === ''}
        onClick={() => onNarrow({ filters: [], who: '' })}
        className={itemClass}
      >
        {FILTER_WORDS.all} <span className="tabular">{found[0]?.sittings ?? 0}</span>
      </button>
      <ToggleGroup.Root
        type="multiple"
        aria-label="Only"
        value={[...filters]}
        onValueChange={value => onNarrow({ filters: value as LaneFilter[], who })}
        className="flex flex-wrap gap-x-5"
      >
        {some.map(f => (
          <ToggleGroup.Item key={f.filter} value={f.filter} className={itemClass}>
            {FILTER_WORDS[f.filter]} <span className="tabular">{f.sittings}</span>
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      {(isMany || who !== '') && (
        <label className="relative">
          <span className="sr-only">Name</span>
          <Search
            aria-hidden
            className="pointer-events-none absolute inset-y-0 start-2 my-auto size-4 text-soft"
          />
          <input
            ref={field}
            type="search"
            dir="auto"
            placeholder="Name (/)"
            value={who}
            onChange={e => onNarrow({ filters, who: e.target.value })}
            onKeyDown={event => {
              if (event.key !== 'Enter') return;
              event.currentTarget.blur();
              onEnter();
            }}
            className={`${inputClass} !min-h-10 !w-44 !py-1 !ps-8`}
          />
        </label>
      )}
    </div>
  );
});
