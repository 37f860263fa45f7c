const PARTS: readonly [number, string][] = [
  [1 / 4, '¼'],
  [1 / 3, '⅓'],
  [1 / 2, '½'],
  [2 / 3, '⅔'],
  [3 / 4, '¾'],
];

/** Which beat of its bar a stroke falls on, quarter notes counted from 1: 2½. */
export function beatName(atQuarters: number): string {
  const whole = Math.floor(atQuarters + 0.02);
  const part = PARTS.find(([p]) => Math.abs(atQuarters - whole - p) < 0.03)?.[1] ?? '';
  return `${whole + 1}${part}`;
}
