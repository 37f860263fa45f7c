import { useState } from 'react';
import { clock, parseLength } from '@ecoute/core/timing/words';
import { inputClass } from '../../../parts/Field';

/** What is wrong with a length that was typed; null where nothing is. @param ms as read; null for none */
export function lengthProblem(ms: number | null, leastMs: number, mostMs: number): string | null {
  if (ms === null) return 'Type a length such as 0:45, 90 or 2 min.';
  if (ms < leastMs) return `At least ${clock(leastMs)}.`;
  return ms > mostMs ? `At most ${clock(mostMs)}.` : null;
}

/**
 * A length of time, typed as people do (`45`, `1:30`, `2 minutes`, `1h`); arrow keys change it by five seconds. What cannot
 * be taken stands, marked, until it is left; then what holds instead is said, and stays said.
 */
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
  const [wrong, setWrong] = useState<string | null>(null);
  const take = (text: string) => {
    const ms = parseLength(text);
    const problem = lengthProblem(ms, leastMs, mostMs);
    onProblem(problem);
    setWrong(problem);
    if (problem === null) onChange(ms!);
  };
  const step = (by: number) => {
    const ms = Math.max(leastMs, Math.min(mostMs, valueMs + by));
    setTyped(null);
    setWrong(null);
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
        if (wrong) onProblem(`${wrong} “${typed ?? ''}” is not taken: it stays ${clock(valueMs)}.`);
        setTyped(null);
        setWrong(null);
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
