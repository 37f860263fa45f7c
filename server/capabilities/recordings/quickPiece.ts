import { close, fdatasync, fstat, open, write } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import type { Request, RequestHandler, Response } from 'express';
import type { MemoryLocker } from '@tus/server';
import { recordsHere } from '../../platform/access/store';
import type { Pool } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import { forNoPage, sameOrigin } from '../../platform/guards';
import { log } from '../../platform/log';
import type { SessionCookies } from '../../platform/rights/cookies';
import type { RememberedRights } from '../../platform/rights/remembered';
import { Trouble } from '../../platform/trouble';
import type { Allowances } from './allowances';
import { original } from './files';

const PIECE = /^\/api\/uploads\/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})$/;
/** A second of film is less; what is longer is streamed to the disk. */
const LONGEST_PIECE_BYTES = 1024 * 1024;
const MOST_OPEN = 20_000;
const NEVER = new AbortController().signal;

const disk = {
  open: promisify(open),
  fstat: promisify(fstat),
  sync: promisify(fdatasync),
};

/** A piece as the open upload protocol (tus 1.0) sends it. */
interface Piece {
  id: string;
  offset: number;
  length: number;
  /** Nothing comes after it: it tells the whole length. */
  isLast: boolean;
}

/** What the last piece leads to. */
interface Whole {
  /** Notes how long a recording will be. */
  tell(id: string, length: number): Promise<void>;
  /** All of it is on the disk. @param ownerId whoever brought it */
  came(id: string, ownerId: string): Promise<void>;
}

/**
 * Pieces of a recording under way, of which each device sends one a second: one write, and the disk told to keep it before the
 * piece is acknowledged. Everything else of the protocol (what is long, what does not fit, a length that is told before its time)
 * goes the usual way, and so does whatever is not plainly allowed.
 */
export class QuickPiece {
  /** Recordings whose length nobody has told yet. */
  private readonly open = new Set<string>();

  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly rights: RememberedRights,
    private readonly cookies: SessionCookies,
    private readonly allowances: Allowances,
    /** The same as that of the protocol's server: one of both writes at a time. */
    private readonly locker: MemoryLocker,
    private readonly whole: Whole,
  ) {}

  readonly take: RequestHandler = (req, res, next) => {
    const piece = req.method === 'PATCH' ? pieceOf(req) : null;
    const sessionId = piece && this.cookies.sessionOf(req);
    if (!piece || sessionId === null) return next();
    sameOrigin(req, res, (problem?: unknown) => {
      if (problem) return next();
      this.mayCome(piece, sessionId)
        .then(may => (may ? this.keep({ ...piece, sessionId }, req, res) : next()))
        .catch(next);
    });
  };

  /** Whether a piece is plainly allowed. */
  private async mayCome({ id, offset, length }: Piece, sessionId: string): Promise<boolean> {
    if ((await this.bringerOf(sessionId, id)) === null || !(await this.isOpen(id))) return false;
    return offset + length <= (await this.allowances.of(id));
  }

  /** Whose session may bring the bytes of a recording now; remembered from one piece to the next. */
  private async bringerOf(sessionId: string, id: string): Promise<string | null> {
    const known = this.rights.holderOf(sessionId, 'record', id);
    if (known !== null) return known;
    const asOf = this.rights.asOf();
    const found = await recordsHere(this.pool, sessionId, id);
    if (found) this.rights.keep(asOf, { sessionId, ...found }, 'record', [id]);
    return found?.personId ?? null;
  }

  /** Lets no piece be put to a recording while it is settled: what was acknowledged before is in it, and nothing after. */
  async holdOff<T>(id: string, settle: () => Promise<T>): Promise<T> {
    const unlock = await this.locked(id);
    try {
      return await settle();
    } finally {
      this.rights.forgetRecording(id);
      await unlock();
    }
  }

  /** Whether nobody has told how long it will be: with its length the last piece is known, and that ends it. */
  private async isOpen(id: string): Promise<boolean> {
    if (this.open.has(id)) return true;
    const told = await readFile(this.files.localPath(`${original(id)}.json`), 'utf8').catch(() => null);
    if (told === null || !isLengthLeftOpen(told)) return false;
    if (this.open.size >= MOST_OPEN) this.open.clear();
    this.open.add(id);
    return true;
  }

  /** Its length is told: from here on nothing of it goes this way. */
  lengthIsTold(id: string): void {
    this.open.delete(id);
  }

  private async keep(
    { id, offset, length, isLast, sessionId }: Piece & { sessionId: string },
    req: Request,
    res: Response,
  ): Promise<void> {
    const bytes = await bodyOf(req, length);
    // The line broke in the middle: what did not come whole was not acknowledged, and is sent again.
    if (!bytes) return void res.destroy();
    let ownerId: string | null;
    const unlock = await this.locked(id);
    try {
      // It may have been settled, or its length told, while the piece was on its way.
      ownerId = await this.bringerOf(sessionId, id);
      if (ownerId === null) throw takesNoMore();
      if (!this.open.has(id) || !(await this.put(id, bytes, offset, isLast)))
        return answer(res, 409, 'Upload-Offset conflict\n');
    } finally {
      await unlock();
    }
    if (isLast) await this.whole.came(id, ownerId);
    res.setHeader('Upload-Offset', String(offset + length));
    answer(res, 204);
  }

  /** Puts a piece to its recording, and has the disk keep it. @returns false where that does not end at the offset */
  private async put(id: string, bytes: Buffer, offset: number, isLast: boolean): Promise<boolean> {
    const file = await disk.open(this.files.localPath(original(id)), 'r+');
    try {
      if ((await disk.fstat(file)).size !== offset) return false;
      // Told before the rest is written: from then on it is found to be whole, whatever happens in between.
      if (isLast) await this.whole.tell(id, offset + bytes.length);
      await written(file, bytes, offset);
      await disk.sync(file);
      return true;
    } finally {
      shut(file);
    }
  }

  /** Keeps others from a recording. @returns what lets them again */
  private async locked(id: string): Promise<() => Promise<void> | void> {
    const { locks } = this.locker;
    // Nearly always: nobody else is at it, and nobody is asked to let go.
    if (!locks.has(id)) {
      locks.set(id, { requestRelease: () => undefined });
      return () => void locks.delete(id);
    }
    const lock = this.locker.newLock(id);
    await lock.lock(NEVER, () => undefined);
    return () => lock.unlock();
  }
}

/** For bytes of what was let go of, or stands already. */
export const takesNoMore = () =>
  new Trouble('gone', 'This recording takes no more bytes. Reload the page to see what became of it.');

/** The piece that a request brings; null for whatever is not simply one more. */
function pieceOf({ path, headers }: Request): Piece | null {
  const id = PIECE.exec(path)?.[1];
  if (id === undefined || headers['tus-resumable'] !== '1.0.0') return null;
  if (headers['content-type'] !== 'application/offset+octet-stream') return null;
  const offset = whole(headers['upload-offset']);
  const length = whole(headers['content-length']);
  if (offset === null || length === null || length === 0 || length > LONGEST_PIECE_BYTES) return null;
  const isLast = headers['upload-length'] !== undefined;
  if (isLast && whole(headers['upload-length']) !== offset + length) return null;
  return { id, offset, length, isLast };
}

function whole(text: string | string[] | undefined): number | null {
  return typeof text === 'string' && /^\d{1,15}$/.test(text) ? Number(text) : null;
}

/** @returns null where the line broke before all of it came */
function bodyOf(req: Request, length: number): Promise<Buffer | null> {
  return new Promise(resolve => {
    const pieces: Buffer[] = [];
    let came = 0;
    req.on('data', (bytes: Buffer) => {
      pieces.push(bytes);
      came += bytes.length;
    });
    req.once('end', () => resolve(came === length ? Buffer.concat(pieces) : null));
    req.once('close', () => resolve(null));
  });
}

/** @param told what the protocol's server notes of an upload */
function isLengthLeftOpen(told: string): boolean {
  try {
    return (JSON.parse(told) as { size?: number }).size === undefined;
  } catch {
    return false;
  }
}

/** What is written is synced: nobody waits for this. */
function shut(file: number): void {
  close(file, error => error && log.warn({ err: error }, 'a recording could not be closed'));
}

/** A disk may take less than it is given. */
async function written(file: number, bytes: Buffer, offset: number): Promise<void> {
  for (let at = 0; at < bytes.length;)
    at += await new Promise<number>((resolve, reject) =>
      write(file, bytes, at, bytes.length - at, offset + at, (error, count) =>
        error ? reject(error) : resolve(count),
      ),
    );
}

function answer(res: Response, status: number, text = ''): void {
  forNoPage(res);
  res.setHeader('Tus-Resumable', '1.0.0');
  res.setHeader('Cache-Control', 'no-store');
  res.statusCode = status;
  res.end(text);
}
