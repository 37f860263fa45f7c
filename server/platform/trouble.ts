import type { NextFunction, Request, Response } from 'express';
import { TROUBLES, type TroubleBody, type TroubleCode } from '@ecoute/contract/trouble';
import { log } from './log';

/** An error that a person will read: a code for programs, a message with the next step for people. */
export class Trouble extends Error {
  readonly status: number;

  constructor(
    readonly code: TroubleCode,
    message: string,
    private readonly more: Pick<TroubleBody, 'fields' | 'current'> = {},
  ) {
    super(message);
    this.status = TROUBLES[code].status;
  }

  body(): TroubleBody {
    return { code: this.code, message: this.message, ...this.more };
  }
}

/** The same words whether a thing does not exist or is somebody else's, so that ids cannot be tried out. */
export function notFound(): Trouble {
  return new Trouble(
    'notFound',
    'There is nothing here that you can open. Go back to the first page and choose again.',
  );
}

const DATABASE_AWAY = new Set([
  'ER_STATEMENT_TIMEOUT',
  'ER_QUERY_TIMEOUT',
  'PROTOCOL_SEQUENCE_TIMEOUT',
  'ER_CON_COUNT_ERROR',
  'ECONNREFUSED',
  'ECONNRESET',
  'PROTOCOL_CONNECTION_LOST',
  'ETIMEDOUT',
  'ER_SERVER_SHUTDOWN',
  'EPIPE',
  'POOL_CLOSED',
]);

/** The same words whenever the database does not answer. */
export function databaseAway(): Trouble {
  return new Trouble(
    'away',
    'The database is not answering just now. Nothing you recorded is lost; try again in a moment.',
  );
}

/** What the database says of values that do not fit where they should go. */
const BAD_VALUES = new Set([
  'ER_CONSTRAINT_FAILED',
  'ER_TRUNCATED_WRONG_VALUE',
  'ER_TRUNCATED_WRONG_VALUE_FOR_FIELD',
  'ER_DATA_TOO_LONG',
  'ER_WARN_DATA_OUT_OF_RANGE',
  'ER_DUP_ENTRY',
]);

/** True when a disk has no room, also where a worker thread or a program says so in words alone. */
export function isDiskFull(error: unknown): boolean {
  const { code, message } = (error ?? {}) as { code?: string; message?: string };
  return (
    code === 'ENOSPC' || code === 'EDQUOT' || /ENOSPC|EDQUOT|No space left on device/.test(message ?? '')
  );
}

/**
 * True for an error that says nothing of the thing that was tried: the machine or the database could not just now.
 * Whatever was tried is tried again, and the try does not count.
 */
export function isMomentary(error: unknown): boolean {
  if (isDiskFull(error) || isDatabaseAway(error)) return true;
  const { code, message } = (error ?? {}) as { code?: string; message?: string };
  return (
    ['EMFILE', 'ENFILE', 'ENOMEM', 'EAGAIN', 'EIO', 'ER_LOCK_WAIT_TIMEOUT', 'ER_LOCK_DEADLOCK'].includes(
      code ?? '',
    ) ||
    /\b(EMFILE|ENFILE|ENOMEM|EAGAIN|EIO)\b|Terminating worker thread|is not installed/.test(message ?? '')
  );
}

/** True when an error means that the database cannot be reached just now. */
export function isDatabaseAway(error: unknown): boolean {
  const code = (error as { code?: string } | null)?.code;
  return code !== undefined && DATABASE_AWAY.has(code);
}

function asTrouble(error: unknown): Trouble {
  if (error instanceof Trouble) return error;
  if (isDatabaseAway(error)) return databaseAway();
  if (isDiskFull(error))
    return new Trouble(
      'diskFull',
      'The disk of the server is full. What is on your device stays there and is sent again; tell whoever runs this Ecoute.',
    );
  const { type, status, code } = (error ?? {}) as { type?: string; status?: number; code?: string };
  if (type === 'entity.too.large' || status === 413 || code === 'ER_NET_PACKET_TOO_LARGE')
    return new Trouble('tooLarge', 'That is more text than fits. Shorten it and save again.');
  if (status === 416) return new Trouble('outOfRange', 'This file has no such stretch.');
  if (status === 415)
    return new Trouble(
      'unsupported',
      'This kind of request is not read here. Reload the page and try again.',
    );
  // Paths that lead out of a folder, or to a file that begins with a dot, do not exist.
  if (status === 404 || status === 403) return notFound();
  // A check of ours should have said so before: whoever looks after the code finds the place.
  if (BAD_VALUES.has(code ?? '')) log.warn({ err: error }, 'a value that the database refuses');
  if (type === 'entity.parse.failed' || status === 400 || BAD_VALUES.has(code ?? ''))
    return new Trouble('invalid', 'The request could not be read. Reload the page and try again.');
  log.error({ err: error }, 'unexpected');
  return new Trouble(
    'unexpected',
    'Something went wrong on the server. What was saved is safe; try again, and tell us if it happens twice.',
  );
}

/** Express's last stop: every error leaves in one shape. */
export function answerTrouble(error: unknown, _req: Request, res: Response, next: NextFunction): void {
  if (res.headersSent) return next(error);
  const trouble = asTrouble(error);
  res.status(trouble.status).json(trouble.body());
}

/** One field that cannot stand, in words that say what to do. */
export function invalid(field: string, message: string): Trouble {
  return new Trouble('invalid', message, { fields: { [field]: message } });
}
