import type { FigureBar } from '@ecoute/core/statistics/release';

export interface DrawnBar {
  name: string;
  count: number;
  sittingIds: readonly string[];
}

/** Bars of points, each with what lies in it in words. */
export function barsOfPoints(bars: readonly FigureBar[]): DrawnBar[] {
  const points = (hundredths: number) => String(hundredths / 100);
  return bars.map((b, i) => ({
    name:
      i === bars.length - 1
        ? `${points(b.from)}–${points(b.to)}`
        : `${points(b.from)} to below ${points(b.to)}`,
    count: b.count,
    sittingIds: b.sittingIds,
  }));
}

/** A distribution: how many lie where. A bar is pressed to hear those in it. */
export function Bars({
  bars,
  label,
  unit,
  chosen,
  onChoose,
}: {
  bars: readonly DrawnBar[];
  label: string;
  /** What the names of the bars count. */
  unit: string;
  chosen?: string | null;
  /** Left out where nobody may hear them. */
  onChoose?: (bar: DrawnBar) => void;
}) {
  const most = Math.max(1, ...bars.map(b => b.count));
  return (
    <ol aria-label={label} className="flex h-44 items-end gap-1">
      {bars.map(bar => {
        const words = `${bar.name} ${unit}: ${bar.count} ${bar.count === 1 ? 'student' : 'students'}`;
        const column = (
          <>
            <span className="tabular text-sm">{bar.count || ''}</span>
            <span
              className={`block w-full ${bar.count === 0 ? 'h-px bg-edge' : chosen === bar.name ? 'bg-ink' : 'bg-petrol'}`}
              style={bar.count === 0 ? undefined : { height: `${(100 * bar.count) / most}%` }}
            />
          </>
        );
        const inside = 'flex h-32 w-full flex-col items-center justify-end';
        return (
          <li key={bar.name} className="flex min-w-0 flex-1 flex-col">
            {onChoose && bar.count > 0 ? (
              <button
                type="button"
                aria-pressed={chosen === bar.name}
                aria-label={`${words}. Play them`}
                onClick={() => onChoose(bar)}
                className={`${inside} hover:bg-sunk`}
              >
                {column}
              </button>
            ) : (
              <span role="img" aria-label={words} className={inside}>
                {column}
              </span>
            )}
            <span
              aria-hidden
              className="tabular h-10 pt-1 text-center text-xs leading-tight break-words text-soft"
            >
              {bar.name.replace(' to below ', '–')}
            </span>
          </li>
        );
      })}
    </ol>
  );
}
