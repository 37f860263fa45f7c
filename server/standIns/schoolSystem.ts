/**
 * A small simulated school system, for the demo and for tests: OneRoster 1.2 as far as handing a gradebook over goes. It
 * gives out bearer tokens for client credentials (RFC 6749, section 4.4), knows a class or two with their students, takes
 * categories, line items and results, and refuses what the standard refuses. Its page shows what it has, and lets somebody
 * make it slow, busy or broken. Nothing of Ecoute's own rules is in here.
 */
import { randomBytes, timingSafeEqual } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { Router, json, urlencoded, type NextFunction, type Request, type Response } from 'express';
import escapeHtml from 'escape-html';
import type { SimulatedClass } from '../platform/config';

/** How it behaves, chosen on its page or by a test. */
export const MOODS = {
  well: 'answers as it should',
  slow: 'answers after two seconds',
  busy: 'says “too many requests” to every other one (429)',
  down: 'is being repaired (503)',
  lost: 'takes what is put and breaks the connection before it answers, every third time',
  garbled: 'answers with what is no JSON',
  locked: 'does not know the client any more (401)',
} as const;
export type Mood = keyof typeof MOODS;

type Kind = 'categories' | 'lineItems' | 'results';
const KINDS: Record<Kind, string> = { categories: 'category', lineItems: 'lineItem', results: 'result' };

interface Kept {
  categories: Record<string, Fields>;
  lineItems: Record<string, Fields>;
  results: Record<string, Fields>;
}
type Fields = Record<string, unknown>;

const TOKEN_SEC = 3_600;
const CREATE = 'https://purl.imsglobal.org/spec/or/v1p2/scope/gradebook.createput';
const DELETE = 'https://purl.imsglobal.org/spec/or/v1p2/scope/gradebook.delete';
const READ = 'https://purl.imsglobal.org/spec/or/v1p2/scope/gradebook.readonly';
const ROSTER = 'https://purl.imsglobal.org/spec/or/v1p2/scope/roster-core.readonly';
const SCOPES = [CREATE, DELETE, READ, ROSTER];
const STATUSES = ['exempt', 'fully graded', 'not submitted', 'partially graded', 'submitted'];
const LOG_LINES = 40;

/** What is wrong with a record, as the standard names it. */
class Refused extends Error {
  constructor(
    readonly status: number,
    readonly minor: string,
    message: string,
  ) {
    super(message);
  }
}

export class SchoolSystem {
  mood: Mood = 'well';
  private readonly kept: Kept;
  private readonly tokens = new Map<string, { until: number; scopes: string[] }>();
  private readonly log: string[] = [];
  private asked = 0;

  /**
   * @param file where it remembers; null to forget with the process
   * @param credentials of the one client it knows
   */
  constructor(
    private readonly classes: readonly SimulatedClass[],
    private readonly file: string | null,
    private readonly credentials = { id: 'ecoute', secret: 'lantern-herring' },
  ) {
    this.kept =
      file && existsSync(file)
        ? (JSON.parse(readFileSync(file, 'utf8')) as Kept)
        : { categories: {}, lineItems: {}, results: {} };
  }

  /** What it has of a kind, by id. */
  all(kind: Kind): Readonly<Record<string, Fields>> {
    return this.kept[kind];
  }

  /** Requests that it was asked to change something with. */
  get changesAsked(): number {
    return this.asked;
  }

  router(): Router {
    const router = Router();
    router.get(
      '/',
      (_req, res) =>
        void res
          .set('Cache-Control', 'no-store')
          .type('html')
          .send(this.page(String(res.locals.nonce))),
    );
    router.post('/mood', urlencoded({ extended: false }), (req, res) => {
      const { mood } = req.body as { mood?: string };
      if (mood && mood in MOODS) this.mood = mood as Mood;
      if (this.mood === 'locked') this.tokens.clear();
      res.redirect(303, req.baseUrl);
    });
    router.post('/token', urlencoded({ extended: false }), (req, res) => this.token(req, res));
    const service = Router();
    service.use(json({ limit: '256kb' }));
    service.use((req, res, next) => this.behaves(req, res, next));
    const roster = '/ims/oneroster/rostering/v1p2';
    service.get(`${roster}/classes`, this.with(ROSTER), (_req, res) => {
      const classes = this.classes.map(({ sourcedId, title }) => ({ sourcedId, status: 'active', title }));
      res.json({ classes });
    });
    const teachers = this.classes.flatMap(c => c.teachers);
    service.get(`${roster}/teachers`, this.with(ROSTER), (req, res) => {
      const email = /^email='([^']*)'$/.exec(
        typeof req.query.filter === 'string' ? req.query.filter : '',
      )?.[1];
      const found = teachers.filter(
        (u, i) =>
          teachers.findIndex(x => x.sourcedId === u.sourcedId) === i && (email ?? u.email) === u.email,
      );
      res.json({ users: found.map(u => ({ ...u, status: 'active' })) });
    });
    service.get(`${roster}/teachers/:id/classes`, this.with(ROSTER), (req, res) => {
      const { id } = req.params;
      if (!teachers.some(u => u.sourcedId === id))
        throw new Refused(404, 'unknownobject', 'There is no such teacher.');
      const taught = this.classes.filter(c => c.teachers.some(u => u.sourcedId === id));
      res.json({ classes: taught.map(({ sourcedId, title }) => ({ sourcedId, status: 'active', title })) });
    });
    service.get(`${roster}/classes/:id/students`, this.with(ROSTER), (req, res) => {
      const found = this.classes.find(c => c.sourcedId === req.params.id);
      if (!found) throw new Refused(404, 'unknownobject', 'There is no such class.');
      res.json({ users: found.students.map(s => ({ ...s, status: 'active' })) });
    });
    const book = '/ims/oneroster/gradebook/v1p2';
    for (const kind of Object.keys(KINDS) as Kind[]) {
      const path = `${book}/${kind}/:id`;
      service.get(path, this.with(READ), (req, res) => {
        const found = this.kept[kind][String(req.params.id)];
        if (!found) throw new Refused(404, 'unknownobject', `There is no such ${KINDS[kind]}.`);
        res.json({ [KINDS[kind]]: found });
      });
      service.put(path, this.with(CREATE), (req, res) => {
        this.put(kind, String(req.params.id), req.body as unknown);
        this.answer(res, 201);
      });
      service.delete(path, this.with(DELETE), (req, res) => {
        this.remove(kind, String(req.params.id));
        this.answer(res, 204);
      });
    }
    router.use(service);
    router.use((error: unknown, req: Request, res: Response, next: NextFunction) => {
      if (!(error instanceof Refused) && !(error instanceof SyntaxError)) return next(error);
      const [status, minor, words] =
        error instanceof Refused
          ? [error.status, error.minor, error.message]
          : [400, 'invaliddata', 'This is no JSON.'];
      this.note(`${req.method} ${req.path} ${status} ${words}`);
      res.status(status).json({
        imsx_codeMajor: 'failure',
        imsx_severity: 'error',
        imsx_description: words,
        imsx_CodeMinor: {
          imsx_codeMinorField: [
            { imsx_codeMinorFieldName: 'TargetEndSystem', imsx_codeMinorFieldValue: minor },
          ],
        },
      });
    });
    return router;
  }

  /** A token for the client's credentials, in the header as the standard wants it. */
  private token(req: Request, res: Response): void {
    const isKnown = sameText(
      pairIn(req.get('authorization') ?? ''),
      `${this.credentials.id}\n${this.credentials.secret}`,
    );
    if (!isKnown || this.mood === 'locked') return void res.status(401).json({ error: 'invalid_client' });
    const { grant_type: grant, scope = '' } = req.body as Record<string, string | undefined>;
    if (grant !== 'client_credentials') return void res.status(400).json({ error: 'unsupported_grant_type' });
    const scopes = scope.split(' ').filter(Boolean);
    if (scopes.length === 0 || scopes.some(s => !SCOPES.includes(s)))
      return void res.status(400).json({ error: 'invalid_scope' });
    const token = randomBytes(24).toString('base64url');
    this.tokens.set(token, { until: Date.now() + TOKEN_SEC * 1_000, scopes });
    res
      .set('Cache-Control', 'no-store')
      .json({ access_token: token, token_type: 'bearer', expires_in: TOKEN_SEC, scope });
  }

  private with(scope: string) {
    return (req: Request, _res: Response, next: NextFunction): void => {
      const token = this.tokens.get(/^Bearer (.+)$/i.exec(req.get('authorization') ?? '')?.[1] ?? '');
      if (!token || token.until < Date.now())
        throw new Refused(401, 'unauthorisedrequest', 'This token is not good (any more).');
      if (!token.scopes.includes(scope))
        throw new Refused(403, 'forbidden', 'This token is not for what is asked.');
      next();
    };
  }

  /** As it was told to behave. */
  private behaves(req: Request, res: Response, next: NextFunction): void {
    if (req.method !== 'GET') this.asked += 1;
    const nth = this.asked;
    if (this.mood === 'slow') return void setTimeout(next, 2_000);
    if (this.mood === 'busy' && nth % 2 === 1) {
      res.set('Retry-After', '1');
      throw new Refused(429, 'server_busy', 'Too many requests. Try again in a second.');
    }
    if (this.mood === 'down') throw new Refused(503, 'server_busy', 'It is being repaired.');
    if (this.mood === 'garbled') return void res.status(200).type('html').send('<p>Welcome to the school');
    next();
  }

  private answer(res: Response, status: number): void {
    this.note(`${res.req.method} ${res.req.path} ${status}`);
    // It has taken it, and nobody hears of it.
    if (this.mood === 'lost' && this.asked % 3 === 0) return void res.socket?.destroy();
    res.status(status).end();
  }

  private put(kind: Kind, id: string, body: unknown): void {
    const fields = (body as Record<string, Fields | undefined> | null)?.[KINDS[kind]];
    if (!fields || typeof fields !== 'object')
      throw new Refused(422, 'invaliddata', `The body has no ${KINDS[kind]}.`);
    if (fields.sourcedId !== id)
      throw new Refused(422, 'invaliddata', 'The sourcedId of the body is not that of the address.');
    if (fields.status !== 'active' || typeof fields.dateLastModified !== 'string')
      throw new Refused(422, 'invaliddata', 'status and dateLastModified are wanted.');
    this.check(kind, fields);
    this.kept[kind][id] = fields;
    this.remember();
  }

  private check(kind: Kind, fields: Fields): void {
    const needs = (name: string) => {
      if (typeof fields[name] !== 'string' || fields[name] === '')
        throw new Refused(422, 'invaliddata', `${name} is wanted.`);
    };
    const refers = (name: string): string => {
      const { sourcedId } = (fields[name] ?? {}) as { sourcedId?: unknown };
      if (typeof sourcedId !== 'string') throw new Refused(422, 'invaliddata', `${name} is wanted.`);
      return sourcedId;
    };
    if (kind === 'categories') return needs('title');
    if (kind === 'lineItems') {
      for (const name of ['title', 'assignDate', 'dueDate']) needs(name);
      for (const name of ['assignDate', 'dueDate'])
        if (Number.isNaN(Date.parse(String(fields[name]))))
          throw new Refused(422, 'invaliddata', `${name} is no instant.`);
      if (!this.classes.some(c => c.sourcedId === refers('class')))
        throw new Refused(422, 'unknownobject', 'There is no such class.');
      if (!this.kept.categories[refers('category')])
        throw new Refused(422, 'unknownobject', 'There is no such category.');
      return;
    }
    const lineItem = this.kept.lineItems[refers('lineItem')];
    if (!lineItem) throw new Refused(422, 'unknownobject', 'There is no such line item.');
    const { sourcedId: classId } = lineItem.class as { sourcedId: string };
    const students = this.classes.find(c => c.sourcedId === classId)!.students;
    if (!students.some(s => s.sourcedId === refers('student')))
      throw new Refused(422, 'unknownobject', 'This student is not in the class.');
    if (!STATUSES.includes(String(fields.scoreStatus)))
      throw new Refused(422, 'invaliddata', 'scoreStatus is none of those that there are.');
    if (fields.scoreDate !== undefined && !/^\d{4}-\d{2}-\d{2}$/.test(String(fields.scoreDate)))
      throw new Refused(422, 'invaliddata', 'scoreDate is no day.');
    const { score } = fields;
    if (score === undefined) return;
    const most = lineItem.resultValueMax;
    if (typeof score !== 'number' || score < 0 || (typeof most === 'number' && score > most))
      throw new Refused(422, 'invaliddata', 'The score is not between the least and the most.');
  }

  private remove(kind: Kind, id: string): void {
    if (!this.kept[kind][id]) throw new Refused(404, 'unknownobject', `There is no such ${KINDS[kind]}.`);
    delete this.kept[kind][id];
    this.remember();
  }

  private remember(): void {
    if (this.file) writeFileSync(this.file, JSON.stringify(this.kept), { mode: 0o600 });
  }

  private note(line: string): void {
    this.log.unshift(`${new Date().toISOString().slice(11, 19)} ${line}`);
    this.log.length = Math.min(this.log.length, LOG_LINES);
  }

  private page(nonce: string): string {
    const e = (value: unknown) => escapeHtml(String(value ?? ''));
    const nameOf = (id: string) => {
      const found = this.classes.flatMap(c => c.students).find(s => s.sourcedId === id);
      return found ? `${found.givenName} ${found.familyName}` : id;
    };
    const idIn = (value: unknown) => (value as { sourcedId?: string } | undefined)?.sourcedId ?? '';
    const moods = Object.entries(MOODS)
      .map(
        ([key, words]) =>
          `<button name="mood" value="${key}"${key === this.mood ? ' aria-pressed="true"' : ''}>${e(words)}</button>`,
      )
      .join('');
    const items = Object.values(this.kept.lineItems)
      .map(item => {
        const results = Object.values(this.kept.results).filter(r => idIn(r.lineItem) === item.sourcedId);
        const lines = results
          .map(
            r =>
              `<tr><td>${e(nameOf(idIn(r.student)))}</td><td>${e(r.scoreStatus)}</td><td>${e(r.score)}</td><td>${e(r.textScore)}</td><td>${r.late === 'true' ? 'late' : ''}</td></tr>`,
          )
          .join('');
        const category = this.kept.categories[idIn(item.category)]?.title;
        return `<h3>${e(item.title)}</h3><p>${e(category)}, due ${e(String(item.dueDate).slice(0, 10))}${item.resultValueMax === undefined ? '' : `, up to ${e(item.resultValueMax)}`}</p>
<table><tr><th>Student<th>Status<th>Score<th>Words<th></tr>${lines}</table>`;
      })
      .join('');
    return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>The simulated school system</title>
<style nonce="${nonce}">body{font:1rem/1.5 system-ui,sans-serif;margin:2rem auto;max-width:60rem;padding:0 1rem;background:#f2f0ea;color:#222}
table{border-collapse:collapse;background:#fff}th,td{border:1px solid #bbb;padding:.25rem .75rem;text-align:left}
button{font:inherit;margin:0 .5rem .5rem 0;padding:.4rem .7rem;border:1px solid #888;background:#fff}button[aria-pressed]{background:#222;color:#fff}
pre{background:#fff;border:1px solid #bbb;padding:.75rem;overflow-x:auto}</style></head><body>
<h1>The simulated school system</h1><p>It stands for the system of a school: Ecoute hands its gradebook over to it by OneRoster 1.2. It belongs to the demo, and nothing leaves this computer.</p>
<h2>How it behaves</h2><form method="post" action="/school-system/mood">${moods}</form>
<h2>What was handed over</h2>${items || '<p>Nothing yet.</p>'}
<h2>What it was asked</h2><pre>${e(this.log.join('\n') || 'Nothing yet.')}</pre></body></html>`;
  }
}

/** Client and secret of a Basic header, a line each; both were encoded as forms are (RFC 6749, section 2.3.1). */
function pairIn(header: string): string {
  const text = Buffer.from(/^Basic (.+)$/i.exec(header)?.[1] ?? '', 'base64').toString();
  const plain = (part: string) => new URLSearchParams(`x=${part}`).get('x') ?? '';
  const at = text.indexOf(':');
  return at < 0 ? '' : `${plain(text.slice(0, at))}\n${plain(text.slice(at + 1))}`;
}

function sameText(a: string, b: string): boolean {
  const [x, y] = [Buffer.from(a), Buffer.from(b)];
  return x.length === y.length && timingSafeEqual(x, y);
}
