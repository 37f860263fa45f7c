import type { NextFunction, Request, Response } from 'express';
import type { TroubleBody, TroubleCode } from '@ecoute/contract/trouble';
import { log } from './log';

const STATUS: Record<TroubleCode, number> = {
  invalid: 422,
  notSignedIn: 401,
  wrongPassword: 401,
  tooManyTries: 429,
  notAllowed: 403,
  notFound: 404,
  wrongOrigin: 403,
  stale: 409,
  closed: 409,
  noTakesLeft: 409,
  unfinished: 409,
  tooLarge: 413,
  away: 503,
  unexpected: 500,
};

/** An error that a person will read: a code for programs, a message with the next step for people. */
export class Trouble extends Error {
  readonly status: number;

  constructor(
    readonly code: TroubleCode,
    message: string,
    private readonly more: Pick<TroubleBody, 'fields' | 'current'> = {},
  ) {
    super(message);
    this.status = STATUS[code];
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
  'ECONNREFUSED',
  'ECONNRESET',
  'PROTOCOL_CONNECTION_LOST',
  'ETIMEDOUT',
  'ER_SERVER_SHUTDOWN',
  'EPIPE',
  'POOL_CLOSED',
]);

/** True when an error means that the database cannot be reached just now. */
export function isDatabaseAway(error: unknown): boolean {
  const code = (error as { code?: string } | null)?.code;
  return code !== undefined && DATABASE_AWAY.has(code);
}

function asTrouble(error: unknown): Trouble {
  if (error instanceof Trouble) return error;
  if (isDatabaseAway(error))
    return new Trouble(
      'away',
      'The database is not answering just now. Nothing you recorded is lost; try again in a moment.',
    );
  const { type, status } = (error ?? {}) as { type?: string; status?: number };
  if (type === 'entity.too.large')
    return new Trouble('tooLarge', 'That is more text than fits. Shorten it and save again.');
  if (status === 404) return notFound();
  if (type === 'entity.parse.failed' || status === 400)
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
