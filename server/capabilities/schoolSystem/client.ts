/** Ecoute as a client of the school's system: OneRoster 1.2 over REST, with bearer tokens for client credentials (RFC 6749). */
import { COLLECTIONS, type GradebookRecord, type RecordKind } from '@ecoute/core/formats/gradebookService';

export interface SchoolAddress {
  baseUrl: string;
  tokenUrl: string;
  clientId: string;
  secret: string;
}

/** `refused`: this record is not taken, however often it comes. `away`: it may be later. `locked`: Ecoute is not let in. */
export type SchoolFailure = 'refused' | 'away' | 'locked';

export class SchoolError extends Error {
  constructor(
    readonly failure: SchoolFailure,
    message: string,
    /** After so long it wants to be asked again, in ms; null where it did not say. */
    readonly waitMs: number | null = null,
  ) {
    super(message);
  }
}

const PURL = 'https://purl.imsglobal.org/spec/or/v1p2/scope';
const SCOPES = [
  `${PURL}/roster-core.readonly`,
  `${PURL}/gradebook.createput`,
  `${PURL}/gradebook.delete`,
].join(' ');
const ROSTER = '/ims/oneroster/rostering/v1p2';
const BOOK = '/ims/oneroster/gradebook/v1p2';
/** Who does not answer for so long does not answer. */
const ANSWER_MS = 20_000;
const MOST_BYTES = 4 * 1024 ** 2;
const LONGEST_WAIT_MS = 60_000;
/** A token is asked for anew this long before its end. */
const TOKEN_MARGIN_MS = 30_000;
/** Classes and students are asked for in pages; so many pages are enough for any. */
const PAGE = 200;
const MOST_PAGES = 20;

interface Answer {
  status: number;
  json: unknown;
  headers: Headers;
}

export class SchoolClient {
  private token: { value: string; untilMs: number } | null = null;

  constructor(private readonly address: SchoolAddress) {}

  /** @throws SchoolError */
  classes(): Promise<{ sourcedId: string; title: string }[]> {
    return this.classesAt(`${ROSTER}/classes`);
  }

  private async classesAt(path: string): Promise<{ sourcedId: string; title: string }[]> {
    return (await this.list(path, 'classes')).flatMap(c => {
      const [sourcedId, title] = [text(c.sourcedId), text(c.title)];
      return sourcedId && title ? [{ sourcedId, title }] : [];
    });
  }

  /**
   * Classes that somebody teaches there, told apart by the school's own id or else the mail address.
   * @returns null for somebody whom it does not know as a teacher
   * @throws SchoolError
   */
  async classesTaughtBy(who: {
    externalId: string | null;
    email: string | null;
  }): Promise<{ sourcedId: string; title: string }[] | null> {
    const id = who.externalId ?? (who.email && (await this.teacherWith(who.email)));
    if (!id) return null;
    const path = `${ROSTER}/teachers/${encodeURIComponent(id)}/classes`;
    return this.classesAt(path).catch((error: unknown) => {
      if (error instanceof SchoolError && error.failure === 'refused') return null;
      throw error;
    });
  }

  /** Its teacher with a mail address, where there is exactly one. */
  private async teacherWith(email: string): Promise<string | null> {
    const filter = encodeURIComponent(`email='${email.replaceAll("'", '')}'`);
    const found = await this.list(`${ROSTER}/teachers?filter=${filter}`, 'users');
    // One that knows no filters gives everybody.
    const same = found.filter(u => text(u.email).toLowerCase() === email.toLowerCase());
    return same.length === 1 ? text(same[0]!.sourcedId) || null : null;
  }

  /** @throws SchoolError */
  async students(classId: string): Promise<{ sourcedId: string; name: string; email: string }[]> {
    const path = `${ROSTER}/classes/${encodeURIComponent(classId)}/students`;
    return (await this.list(path, 'users')).flatMap(u => {
      const sourcedId = text(u.sourcedId);
      const name = [text(u.givenName), text(u.familyName)].filter(Boolean).join(' ');
      return sourcedId && name ? [{ sourcedId, name, email: text(u.email) }] : [];
    });
  }

  /** Puts a record; once more it changes nothing. @throws SchoolError */
  async put({ kind, sourcedId, body }: GradebookRecord): Promise<void> {
    const record = { ...body, dateLastModified: new Date().toISOString() };
    await this.ask('PUT', placeOf(kind, sourcedId), { [kind]: record });
  }

  /** Removes a record; one that is not there (any more) is removed. @throws SchoolError */
  async remove(kind: RecordKind, sourcedId: string): Promise<void> {
    await this.ask('DELETE', placeOf(kind, sourcedId), undefined, [404]);
  }

  private async list(path: string, name: string): Promise<Record<string, unknown>[]> {
    const all: Record<string, unknown>[] = [];
    const seen = new Set<string>();
    for (let page = 0; page < MOST_PAGES; page++) {
      const { json } = await this.ask(
        'GET',
        `${path}${path.includes('?') ? '&' : '?'}limit=${PAGE}&offset=${page * PAGE}`,
      );
      const found = (json as Record<string, unknown> | null)?.[name];
      if (!Array.isArray(found))
        throw new SchoolError('away', 'The school’s system answered with something that cannot be read.');
      // One that knows no pages gives all of them each time.
      const fresh = (found as Record<string, unknown>[]).filter(f => !seen.has(text(f?.sourcedId)));
      fresh.forEach(f => seen.add(text(f.sourcedId)));
      all.push(...fresh.filter(f => f.status !== 'tobedeleted'));
      if (found.length < PAGE || fresh.length === 0) break;
    }
    return all;
  }

  private async ask(
    method: string,
    path: string,
    body?: unknown,
    alsoGood: readonly number[] = [],
  ): Promise<Answer> {
    for (let isSecond = false; ; isSecond = true) {
      const token = await this.signIn();
      const answer = await this.fetched(`${this.address.baseUrl.replace(/\/+$/, '')}${path}`, {
        method,
        headers: {
          Authorization: `Bearer ${token}`,
          Accept: 'application/json',
          ...(body !== undefined && { 'Content-Type': 'application/json' }),
        },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
      if (answer.status === 401 && !isSecond) {
        // It ended earlier than it was to.
        this.token = null;
        continue;
      }
      if ((answer.status >= 200 && answer.status < 300) || alsoGood.includes(answer.status)) {
        // Whatever welcomes us with a page instead of an answer has taken nothing.
        if (answer.status !== 204 && answer.json === NO_JSON)
          throw new SchoolError('away', 'The school’s system answered with something that cannot be read.');
        return answer;
      }
      throw failureOf(answer);
    }
  }

  private async signIn(): Promise<string> {
    if (this.token && this.token.untilMs > Date.now()) return this.token.value;
    const { clientId, secret, tokenUrl } = this.address;
    // Both are encoded before they are joined: RFC 6749, section 2.3.1.
    const pair = `${encodeURIComponent(clientId)}:${encodeURIComponent(secret)}`;
    const answer = await this.fetched(tokenUrl, {
      method: 'POST',
      headers: {
        Authorization: `Basic ${Buffer.from(pair).toString('base64')}`,
        'Content-Type': 'application/x-www-form-urlencoded',
        Accept: 'application/json',
      },
      body: new URLSearchParams({ grant_type: 'client_credentials', scope: SCOPES }).toString(),
    });
    if (answer.status === 429 || answer.status >= 500) throw failureOf(answer);
    const told = answer.json as { access_token?: unknown; expires_in?: unknown } | null;
    if (answer.status !== 200 || typeof told?.access_token !== 'string')
      throw new SchoolError(
        'locked',
        'The school’s system does not let Ecoute in. An administrator looks at the client id and the secret.',
      );
    const forMs = (typeof told.expires_in === 'number' ? told.expires_in : 300) * 1_000;
    this.token = { value: told.access_token, untilMs: Date.now() + Math.max(0, forMs - TOKEN_MARGIN_MS) };
    return told.access_token;
  }

  private async fetched(url: string, init: RequestInit): Promise<Answer> {
    try {
      // A secret follows nobody elsewhere.
      const response = await fetch(url, {
        ...init,
        redirect: 'error',
        signal: AbortSignal.timeout(ANSWER_MS),
      });
      return { status: response.status, json: await jsonOf(response), headers: response.headers };
    } catch (error) {
      if (error instanceof SchoolError) throw error;
      throw new SchoolError(
        'away',
        (error as Error).name === 'TimeoutError'
          ? 'The school’s system did not answer in time.'
          : 'The school’s system could not be reached, or broke the connection.',
      );
    }
  }
}

/** What was answered is no JSON. */
const NO_JSON = Symbol('no JSON');

/** @throws SchoolError for more than anybody would answer */
async function jsonOf(response: Response): Promise<unknown> {
  let text = '';
  const decoder = new TextDecoder();
  for await (const part of response.body ?? []) {
    text += decoder.decode(part as Uint8Array, { stream: true });
    if (text.length > MOST_BYTES)
      throw new SchoolError('away', 'The school’s system answered with far more than was asked for.');
  }
  if (text.trim() === '') return null;
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return NO_JSON;
  }
}

function failureOf({ status, json, headers }: Answer): SchoolError {
  const said = text((json as { imsx_description?: unknown } | null)?.imsx_description).slice(0, 300);
  if (status === 429 || status >= 500) {
    const seconds = Number(headers.get('retry-after'));
    const wait = Number.isFinite(seconds) && seconds > 0 ? Math.min(LONGEST_WAIT_MS, seconds * 1_000) : null;
    return new SchoolError('away', `The school’s system is busy or broken (${status}).`, wait);
  }
  if (status === 401)
    return new SchoolError(
      'locked',
      'The school’s system does not let Ecoute in. An administrator looks at the client id and the secret.',
    );
  if (status === 403)
    return new SchoolError('locked', 'The school’s system lets Ecoute in, and does not let it do this.');
  return new SchoolError('refused', said || `The school’s system refused it (${status}).`);
}

const placeOf = (kind: RecordKind, sourcedId: string) =>
  `${BOOK}/${COLLECTIONS[kind]}/${encodeURIComponent(sourcedId)}`;

const text = (value: unknown): string => (typeof value === 'string' ? value.trim() : '');
