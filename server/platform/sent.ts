import { createHmac } from 'node:crypto';
import type { Stats } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Request } from 'express';
import send from 'send';

/** What somebody brought may do nothing, and is no page of ours, should a browser open it by its address. */
export const ALONE = "default-src 'none'; sandbox";

/**
 * Says which version of a file this is. When it was written is in it, for a file of the same length may be another one, but
 * cannot be read out of it: a clock would say whose a hidden name is.
 */
function tagOf(stat: Stats, secret: string): string {
  const version = `${stat.mtimeMs} ${stat.size}`;
  const known = TAGS.get(version);
  if (known !== undefined) return known;
  const written = createHmac('sha256', secret).update(version).digest('hex');
  const tag = `"${stat.size.toString(16)}-${written.slice(0, 16)}"`;
  if (TAGS.size >= MOST_TAGS) TAGS.clear();
  TAGS.set(version, tag);
  return tag;
}

/** A sound that is fetched in pieces has its tag told with each of them. One secret for one process. */
const TAGS = new Map<string, string>();
const MOST_TAGS = 20_000;

/**
 * Sends a file: answers ranges, and says 304 when the browser has it. Nothing says when it was written.
 * @param missing called instead of an error where there is no such file, before anything is sent
 * @param secret what tags are keyed with; that of the application where nothing is given
 */
export function sent(
  res: ServerResponse,
  path: string,
  headers: Record<string, string>,
  missing: (() => void) | null = null,
  secret = (res.req as Request).app.locals.tagSecret as string,
): Promise<void> {
  return new Promise((resolve, reject) => {
    send(res.req as IncomingMessage, encodeURI(path), {
      dotfiles: 'allow',
      cacheControl: false,
      etag: false,
      lastModified: false,
    })
      .on('headers', (_res: ServerResponse, _path: string, stat: Stats) => {
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
