import pino from 'pino';

/**
 * What the log keeps of an error. Errors of the database carry the whole statement with its values, and name values
 * in their words: of these only the kind and the place in the code are kept.
 */
export function errorForLog(error: unknown): Record<string, unknown> {
  if (!(error instanceof Error)) return { message: String(error).slice(0, 300) };
  const { code, errno, sqlState } = error as { code?: string; errno?: number; sqlState?: string };
  const places = (error.stack ?? '')
    .split('\n')
    .filter(line => /^\s+at /.test(line))
    .slice(0, 12)
    .map(line => line.trim());
  if ('sql' in error || sqlState !== undefined) return { type: 'database', code, errno, sqlState, places };
  return { type: error.name, code, message: error.message.slice(0, 500), places };
}

/** One log for the server; people's names, answers and passwords never go into it. */
export const log = pino({
  level: process.env.ECOUTE_LOG ?? 'warn',
  base: undefined,
  serializers: { err: errorForLog, req: () => undefined, res: () => undefined },
});
