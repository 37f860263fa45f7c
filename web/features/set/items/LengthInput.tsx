import { useState } from 'react';
import { clock, parseLength } from '@ecoute/core/timing/words';
import { inputClass } from '../../../parts/Field';

/** A length of time, typed as people do (`45`, `1:30`, `2 min`); arrow keys change it by five seconds. */
export function LengthInput({
  valueMs,
  onChange,
  leastMs,
  mostMs,
  onProblem,
  ...ties
}: {
  valueMs: number;
  onChange: (ms: number) => void;
  leastMs: number;
  mostMs: number;
  onProblem: (problem: string | null) => void;
  id: string;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const take = (text: string) => {
    const ms = parseLength(text);
    const problem =
      ms === null
        ? 'Type a length such as 0:45, 90 or 2 min.'
        : ms < leastMs
          ? `At least ${clock(leastMs)}.`
          : ms > mostMs
            ? `At most ${clock(mostMs)}.`
            : null;
    onProblem(problem);
    if (problem === null) onChange(ms!);
  };
  const step = (by: number) => {
    const ms = Math.max(leastMs, Math.min(mostMs, valueMs + by));
    setTyped(null);
    onProblem(null);
    onChange(ms);
  };
  return (
    <input
      {...ties}
      inputMode="numeric"
      className={`${inputClass} tabular`}
      value={typed ?? clock(valueMs)}
      onChange={e => {
        setTyped(e.target.value);
        take(e.target.value);
      }}
      onBlur={() => {
        setTyped(null);
        onProblem(null);
      }}
      onKeyDown={e => {
        if (e.key === 'ArrowUp' || e.key === 'ArrowDown') {
          e.preventDefault();
          step(e.key === 'ArrowUp' ? 5_000 : -5_000);
        }
      }}
    />
  );
}
