const MB = 1024 ** 2;

/** An amount of data as people say it: `3.4 MB`, `1.2 GB`. @param bytes not below zero */
export function megabytes(bytes: number): string {
  const [amount, unit] = bytes >= 1024 * MB ? [bytes / (1024 * MB), 'GB'] : [bytes / MB, 'MB'];
  return `${amount >= 100 ? Math.round(amount) : amount.toFixed(1)} ${unit}`;
}
