import { randomBytes } from 'node:crypto';
import type { ServerResponse } from 'node:http';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import helmet from 'helmet';
import { Trouble } from './trouble';

const READING = new Set(['GET', 'HEAD', 'OPTIONS']);

/** Writes come from our own pages only: browsers send an Origin with each, and it must be ours. */
export function sameOrigin(req: Request, _res: Response, next: NextFunction): void {
  if (READING.has(req.method)) return next();
  const origin = req.get('origin');
  let host: string | null = null;
  try {
    host = origin ? new URL(origin).host : null;
  } catch {
    // "null" and other nonsense: not ours.
  }
  if (host !== null && host === req.get('host')) return next();
  next(
    new Trouble(
      'wrongOrigin',
      'This request did not come from an Ecoute page. Open Ecoute in its own tab and try again.',
    ),
  );
}

/**
 * Security headers. Scripts and styles only from here; the one nonce of a page is for the style elements that
 * interface primitives insert.
 */
export function headers(https: boolean): RequestHandler[] {
  return [
    (_req, res, next) => {
      res.locals.nonce = randomBytes(16).toString('base64');
      next();
    },
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'none'"],
          scriptSrc: ["'self'"],
          styleSrc: ["'self'", (_req, res) => `'nonce-${(res as Response).locals.nonce as string}'`],
          fontSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          connectSrc: ["'self'"],
          workerSrc: ["'self'"],
          // A mail that the simulated mailbox shows.
          frameSrc: ["'self'"],
          manifestSrc: ["'self'"],
          baseUri: ["'none'"],
          formAction: ["'self'"],
          frameAncestors: ["'none'"],
        },
      },
      strictTransportSecurity: https,
      frameguard: { action: 'deny' },
      crossOriginEmbedderPolicy: false,
      referrerPolicy: { policy: 'same-origin' },
    }),
    (_req, res, next) => {
      res.setHeader(
        'Permissions-Policy',
        'microphone=(self), camera=(self), display-capture=(self), geolocation=()',
      );
      next();
    },
  ];
}

/** Of `headers`, what concerns an answer that is never shown as a page: a sound, a piece that was taken. */
export function forNoPage(res: ServerResponse): void {
  res.setHeader('X-Content-Type-Options', 'nosniff');
  res.setHeader('X-Frame-Options', 'DENY');
  res.setHeader('Cross-Origin-Resource-Policy', 'same-origin');
  res.setHeader('Referrer-Policy', 'same-origin');
}
