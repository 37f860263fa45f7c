import { unsign } from 'cookie-signature';
import type { IncomingMessage } from 'node:http';
import { SESSION_COOKIE } from '../sessions';

const COOKIE = new RegExp(`(?:^|;\\s*)${SESSION_COOKIE}=([^;]+)`);
/** Cookies whose signature was looked at. */
const MOST_KNOWN = 20_000;

/** The number of a session, read from its signed cookie without loading it: it says nothing of whether that is still good. */
export class SessionCookies {
  private readonly known = new Map<string, string>();

  constructor(private readonly secret: string) {}

  /** @returns null where there is no cookie, or one that Ecoute has not signed */
  sessionOf({ headers }: Pick<IncomingMessage, 'headers'>): string | null {
    const cookie = COOKIE.exec(headers.cookie ?? '')?.[1];
    if (cookie === undefined) return null;
    const known = this.known.get(cookie);
    if (known !== undefined) return known;
    const signed = decoded(cookie);
    const id = signed?.startsWith('s:') ? unsign(signed.slice(2), this.secret) : false;
    if (id === false) return null;
    if (this.known.size >= MOST_KNOWN) this.known.clear();
    this.known.set(cookie, id);
    return id;
  }
}

function decoded(text: string): string | null {
  try {
    return decodeURIComponent(text);
  } catch {
    return null;
  }
}
