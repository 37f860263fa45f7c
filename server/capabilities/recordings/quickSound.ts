import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Request } from 'express';
import type { Pool } from '../../platform/database';
import { mayHear, soundsForGood } from '../../platform/access/store';
import type { FileStore } from '../../platform/files';
import { forNoPage } from '../../platform/guards';
import type { RememberedRights, RightHolder } from '../../platform/rights/remembered';
import { ALONE, sent } from '../../platform/sent';
import type { SessionCookies } from '../../platform/rights/cookies';
import { livingSessions } from '../../platform/sessions';
import { playable } from './files';

const SOUND = /^\/api\/recordings\/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})\/sound(?:\?|$)/;

/** Kept by the browser, asked about by its tag: the playable copy may have come since. */
export const soundHeaders = (type: string): Record<string, string> => ({
  'Content-Type': type,
  'Cache-Control': 'private, no-cache',
  'Content-Security-Policy': ALONE,
});

/**
 * Sounds by what is remembered of who may hear them. A listener fetches a sound in pieces, and a page of lanes hundreds of
 * sounds: the session, the right and the row of each are looked up once, and not for every piece.
 */
export class QuickSound {
  constructor(
    private readonly pool: Pool,
    private readonly files: FileStore,
    private readonly rights: RememberedRights,
    private readonly cookies: SessionCookies,
    private readonly tagSecret: string,
  ) {}

  /**
   * Before all else, and before the application: sends a playable copy to whoever is known to hear it.
   * @param usual the way of everything else, and of what goes wrong before anything is sent
   */
  serve(req: IncomingMessage, res: ServerResponse, usual: () => void): void {
    const soundId = req.method === 'GET' ? SOUND.exec(req.url ?? '')?.[1] : undefined;
    if (soundId === undefined) return usual();
    const sessionId = this.cookies.sessionOf(req);
    const personId = sessionId === null ? null : this.rights.holderOf(sessionId, 'hear', soundId);
    if (sessionId === null || personId === null) return usual();
    this.watch(res, { sessionId, personId, soundId });
    forNoPage(res);
    const path = this.files.localPath(playable(soundId));
    sent(res, path, soundHeaders('audio/mp4'), usual, this.tagSecret).catch(usual);
  }

  /** Ends a sound that is being sent once whoever asked may not hear it any more. */
  watch(
    res: ServerResponse,
    { sessionId, personId, soundId }: { sessionId: string; personId: string; soundId: string },
  ): void {
    this.rights.whileAllowed({
      sessionId,
      personId,
      recordingId: soundId,
      res,
      isStillAllowed: async () =>
        (await livingSessions(this.pool, [sessionId])).has(sessionId) &&
        (await mayHear(this.pool, personId, soundId)),
    });
  }

  /** Keeps that whoever asks may hear a sound, where nothing but a change can end that. */
  remember(req: Request, soundId: string): Promise<void> {
    return this.keep(req, holder => soundsForGood(this.pool, holder, { soundId }));
  }

  /** The same for a page of sounds at once: what was handed in for a release. */
  rememberRelease(req: Request, releaseId: string): Promise<void> {
    return this.keep(req, holder => soundsForGood(this.pool, holder, { releaseId }));
  }

  private async keep(req: Request, found: (holder: RightHolder) => Promise<string[]>): Promise<void> {
    const holder = holderOf(req);
    const asOf = holder && this.rights.asOf();
    if (holder && asOf !== null) this.rights.keep(asOf, holder, 'hear', await found(holder));
  }
}

/** Whose session a request comes in; null for what ends in other ways: a phone that continues an item, a child's slip. */
function holderOf({ session, sessionID }: Request): RightHolder | null {
  if (!session?.me || session.handoverId || session.slip) return null;
  return {
    sessionId: sessionID,
    personId: session.me.id,
    endsAtMs: session.cookie.expires instanceof Date ? session.cookie.expires.getTime() : 0,
  };
}
