import { stat } from 'node:fs/promises';
import type { Response } from 'express';

/** What somebody brought may do nothing, and is no page of ours, should a browser open it by its address. */
export const ALONE = "default-src 'none'; sandbox";

/**
 * Sends a file: answers ranges, and says 304 when the browser has it.
 * @param withoutClock neither when the file was written nor a tag made of that: it would say whose hidden name it is
 */
export async function sent(
  res: Response,
  path: string,
  headers: Record<string, string>,
  withoutClock = false,
): Promise<void> {
  if (withoutClock) res.set('ETag', `"${(await stat(path)).size.toString(16)}"`);
  return new Promise((resolve, reject) =>
    res.sendFile(
      path,
      { headers, cacheControl: false, dotfiles: 'allow', lastModified: !withoutClock },
      error => {
        // A listener who goes on to the next lane closes this one: not an error.
        if (error && (error as { code?: string }).code !== 'ECONNABORTED' && !res.headersSent) reject(error);
        else resolve();
      },
    ),
  );
}
