import pino from 'pino';

/** One log for the server; people's names, answers and passwords never go into it. */
export const log = pino({ level: process.env.ECOUTE_LOG ?? 'warn', base: undefined });
