import { createHmac } from 'node:crypto';
import type { Stats } from 'node:fs';
import type { Request, Response } from 'express';
import send from 'send';

/** What somebody brought may do nothing, and is no page of ours, should a browser open it by its address. */
export const ALONE = "default-src 'none'; sandbox";

/**
 * Says which version of a file this is. When it was written is in it, for a file of the same length may be another one, but
 * cannot be read out of it: a clock would say whose a hidden name is.
 */
function tagOf(stat: Stats, secret: string): string {
  const written = createHmac('sha256', secret).update(`${stat.mtimeMs} ${stat.size}`).digest('hex');
  return `"${stat.size.toString(16)}-${written.slice(0, 16)}"`;
}

/**
 * Sends a file: answers ranges, and says 304 when the browser has it. Nothing says when it was written.
 * @param missing called instead of an error where there is no such file, before anything is sent
 */
export function sent(
  res: Response,
  path: string,
  headers: Record<string, string>,
  missing: (() => void) | null = null,
): Promise<void> {
  const req = res.req as Request;
  const secret = req.app.locals.tagSecret as string;
  return new Promise((resolve, reject) => {
    send(req, encodeURI(path), { dotfiles: 'allow', cacheControl: false, etag: false, lastModified: false })
      .on('headers', (_res: Response, _path: string, stat: Stats) => {
        for (const [name, value] of Object.entries(headers)) res.setHeader(name, value);
        res.setHeader('ETag', tagOf(stat, secret));
      })
      .on('error', (error: NodeJS.ErrnoException & { status?: number }) => {
        // A listener who goes on to the next lane closes this one: not an error.
        if (res.headersSent) return resolve();
        if (missing && error.status === 404) {
          missing();
          return resolve();
        }
        reject(error);
      })
      .on('end', resolve)
      .pipe(res);
    res.once('close', resolve);
  });
}
