import type { Figure } from '@ecoute/core/audio/evidence';
import { inputClass } from '../../parts/Field';
import { FIGURE_WORDS } from '../../parts/figureWords';

/** Which of the measured figures is looked at. */
export function FigureChoice({
  label,
  figure,
  offered,
  onChange,
}: {
  label: string;
  figure: Figure | null;
  offered: readonly Figure[];
  onChange: (figure: Figure) => void;
}) {
  return (
    <label className="flex max-w-full min-w-0 flex-wrap items-center gap-x-2 font-semibold">
      {label}
      <select
        value={figure ?? ''}
        onChange={e => onChange(e.target.value as Figure)}
        className={`${inputClass} !w-auto max-w-full font-normal`}
      >
        {offered.map(f => (
          <option key={f} value={f}>
            {FIGURE_WORDS[f].name()}
          </option>
        ))}
      </select>
    </label>
  );
}
