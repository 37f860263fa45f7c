const MB = 1024 ** 2;

/** An amount of data as people say it: `40 kB`, `3.4 MB`, `1.2 GB`. @param bytes not below zero */
export function megabytes(bytes: number): string {
  // What is there is not said to be nothing.
  if (bytes > 0 && bytes < MB / 10) return `${Math.ceil(bytes / 1024)} kB`;
  const [amount, unit] = bytes >= 1024 * MB ? [bytes / (1024 * MB), 'GB'] : [bytes / MB, 'MB'];
  return `${amount >= 100 ? Math.round(amount) : amount.toFixed(1)} ${unit}`;
}
