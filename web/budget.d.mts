/** See `budget.mjs`. */
export function weigh(
  manifest: Record<string, { file: string; imports?: string[] }>,
  sources: readonly string[],
  sizeOf: (file: string) => number,
): number;
