import { ToggleGroup } from 'radix-ui';
import { memo } from 'react';
import type { Lane } from '@ecoute/contract/marking';
import { FILTER_WORDS, filtersOf, type LaneFilter } from './laneFilters';

/** Narrows the lanes down to what is waiting, late, to record again …; each with how many students it is. */
export const LaneFilters = memo(function LaneFilters({
  lanes,
  filter,
  onFilter,
}: {
  lanes: readonly Lane[];
  filter: LaneFilter;
  onFilter: (filter: LaneFilter) => void;
}) {
  const found = filtersOf(lanes);
  // Nothing to choose between.
  if (found.length < 3) return null;
  return (
    <ToggleGroup.Root
      type="single"
      aria-label="Show lanes"
      value={filter}
      onValueChange={v => onFilter((v || 'all') as LaneFilter)}
      className="flex flex-wrap gap-x-5"
    >
      {found.map(f => (
        <ToggleGroup.Item
          key={f.filter}
          value={f.filter}
          className="min-h-10 border-b-3 border-transparent data-[state=on]:border-ink data-[state=on]:font-semibold"
        >
          {FILTER_WORDS[f.filter]} <span className="tabular">{f.sittings}</span>
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
});
