import { close, fdatasync, fstat, open, stat, write } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { promisify } from 'node:util';
import type { Request, RequestHandler, Response } from 'express';
import { MemoryLocker } from '@tus/server';
import { recordsHere } from '../../platform/access/store';
import type { Pool } from '../../platform/database';
import type { FileStore } from '../../platform/files';
import { sameOrigin } from '../../platform/guards';
import type { SessionCookies } from '../../platform/rights/cookies';
import type { Allowances } from './allowances';
import { original } from './files';

const PIECE = /^\/api\/uploads\/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})$/;
/** A second of film is less; what is longer is streamed to the disk. */
const LONGEST_PIECE_BYTES = 1024 * 1024;
const MOST_OPEN = 20_000;
const NEVER = new AbortController().signal;

const disk = {
  open: promisify(open),
  close: promisify(close),
  stat: promisify(stat),
  fstat: promisify(fstat),
  sync: promisify(fdatasync),
};

/** A piece as the open upload protocol (tus 1.0) sends it. */
interface Piece {
  id: string;
  offset: number;
  length: number;
}

/**
 * Pieces of a recording under way, of which each device sends one a second: one question to the database, one write, and the
 * disk told to keep it before the piece is acknowledged. Everything else of the protocol (the last piece, which tells the
 * length; what is long; what does not fit) goes the usual way, and so does whatever is not plainly allowed.
 */
export class QuickPiece {
  /** Recordings whose length nobody has told yet. */
  private readonly open = new Set<string>();

  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly cookies: SessionCookies,
    private readonly allowances: Allowances,
    /** The same as that of the protocol's server: one of both writes at a time. */
    private readonly locker: MemoryLocker,
  ) {}

  readonly take: RequestHandler = (req, res, next) => {
    const piece = req.method === 'PATCH' ? pieceOf(req) : null;
    const sessionId = piece && this.cookies.sessionOf(req);
    if (!piece || sessionId === null) return next();
    sameOrigin(req, res, (problem?: unknown) => {
      if (problem) return next();
      this.mayCome(piece, sessionId)
        .then(may => (may ? this.keep(piece, req, res) : next()))
        .catch(next);
    });
  };

  private async mayCome({ id, offset, length }: Piece, sessionId: string): Promise<boolean> {
    if (!(await recordsHere(this.pool, sessionId, id))) return false;
    if (offset + length > (await this.allowances.of(id))) return false;
    const path = this.files.localPath(original(id));
    const found = await disk.stat(path).catch(() => null);
    return found?.size === offset && (await this.isOpen(id));
  }

  /** Whether nobody has told how long it will be: with its length the last piece is known, and that ends it. */
  private async isOpen(id: string): Promise<boolean> {
    if (this.open.has(id)) return true;
    const told = await readFile(this.files.localPath(`${original(id)}.json`), 'utf8').catch(() => null);
    if (told === null || (JSON.parse(told) as { size?: number }).size !== undefined) return false;
    if (this.open.size >= MOST_OPEN) this.open.clear();
    this.open.add(id);
    return true;
  }

  /** Its length is told: from here on nothing of it goes this way. */
  lengthIsTold(id: string): void {
    this.open.delete(id);
  }

  private async keep({ id, offset, length }: Piece, req: Request, res: Response): Promise<void> {
    const bytes = await bodyOf(req, length);
    // The line broke in the middle: what did not come whole was not acknowledged, and is sent again.
    if (!bytes) return void res.destroy();
    const lock = this.locker.newLock(id);
    await lock.lock(NEVER, () => undefined);
    try {
      const file = await disk.open(this.files.localPath(original(id)), 'r+');
      try {
        if ((await disk.fstat(file)).size !== offset) return answer(res, 409, 'Upload-Offset conflict\n');
        await written(file, bytes, offset);
        await disk.sync(file);
      } finally {
        await disk.close(file);
      }
    } finally {
      await lock.unlock();
    }
    res.setHeader('Upload-Offset', String(offset + length));
    answer(res, 204);
  }
}

/** The piece that a request brings; null for whatever is not simply one more. */
function pieceOf({ path, headers }: Request): Piece | null {
  const id = PIECE.exec(path)?.[1];
  if (id === undefined || headers['upload-length'] !== undefined || headers['tus-resumable'] !== '1.0.0')
    return null;
  if (headers['content-type'] !== 'application/offset+octet-stream') return null;
  const offset = whole(headers['upload-offset']);
  const length = whole(headers['content-length']);
  if (offset === null || length === null || length === 0 || length > LONGEST_PIECE_BYTES) return null;
  return { id, offset, length };
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
  res.setHeader('Tus-Resumable', '1.0.0');
  res.setHeader('Cache-Control', 'no-store');
  res.statusCode = status;
  res.end(text);
}
