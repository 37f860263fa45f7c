import compression from 'compression';
import type { RequestListener } from 'node:http';
import express, { type Express } from 'express';
import expressStaticGzip from 'express-static-gzip';
import { existsSync, readFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { constants } from 'node:zlib';
import pinoHttp from 'pino-http';
import { administrationRoutes } from './capabilities/administration/routes';
import { AdministrationDesk } from './capabilities/administration/service';
import { addUp } from './capabilities/administration/sums.store';
import { assessmentRoutes } from './capabilities/assessments/routes';
import { Assessments } from './capabilities/assessments/service';
import { classRoutes } from './capabilities/classes/routes';
import { Classes } from './capabilities/classes/service';
import { departmentRoutes } from './capabilities/departments/routes';
import { Departments } from './capabilities/departments/service';
import { Leading } from './capabilities/discussions/lead';
import { discussionRoutes } from './capabilities/discussions/routes';
import { Discussions } from './capabilities/discussions/service';
import { familyRoutes } from './capabilities/families/routes';
import { Families } from './capabilities/families/service';
import { feedRoutes } from './capabilities/feeds/routes';
import { Feeds } from './capabilities/feeds/service';
import { guestRoutes } from './capabilities/guests/routes';
import { handoverRoutes } from './capabilities/handovers/routes';
import { Handovers } from './capabilities/handovers/service';
import { Guests } from './capabilities/guests/service';
import { markRoutes } from './capabilities/marks/routes';
import { Overview } from './capabilities/reading/overview';
import { Feedback } from './capabilities/reading/feedback';
import { readingRoutes } from './capabilities/reading/routes';
import { StudentLists } from './capabilities/reading/studentLists';
import { Marks } from './capabilities/marks/service';
import { replyRoutes } from './capabilities/replies/routes';
import { Replies } from './capabilities/replies/service';
import { commentBankRoutes } from './capabilities/commentBank/routes';
import { CommentBank } from './capabilities/commentBank/service';
import { evidenceRoutes } from './capabilities/measures/routes';
import { TakeMeasures } from './capabilities/measures/service';
import { markupRoutes } from './capabilities/markups/routes';
import { Markups } from './capabilities/markups/service';
import { keepingRoutes } from './capabilities/keeping/routes';
import { Keeping } from './capabilities/keeping/service';
import { exportRoutes } from './capabilities/exports/routes';
import { Exports } from './capabilities/exports/service';
import { decisionRoutes } from './capabilities/decisions/routes';
import { Decisions } from './capabilities/decisions/service';
import { holidayRoutes } from './capabilities/holidays/routes';
import { Holidays } from './capabilities/holidays/service';
import { invitationRoutes } from './capabilities/invitations/routes';
import { Invitations } from './capabilities/invitations/service';
import { listenerRoutes } from './capabilities/listeners/routes';
import { Listeners } from './capabilities/listeners/service';
import { packageRoutes } from './capabilities/packages/routes';
import { Packages } from './capabilities/packages/service';
import { podcastRoutes } from './capabilities/podcasts/routes';
import { Podcasts } from './capabilities/podcasts/service';
import { TalkFeeds } from './capabilities/podcasts/talkFeeds';
import { portfolioRoutes } from './capabilities/portfolios/routes';
import { Portfolios } from './capabilities/portfolios/service';
import { peopleRoutes } from './capabilities/people/routes';
import { People } from './capabilities/people/service';
import { QuickSound } from './capabilities/recordings/quickSound';
import { recordingRoutes } from './capabilities/recordings/routes';
import { Recordings } from './capabilities/recordings/service';
import { releaseRoutes } from './capabilities/releases/routes';
import { Releases } from './capabilities/releases/service';
import { resultsRoutes } from './capabilities/results/routes';
import { noteRoutes } from './capabilities/notes/routes';
import { Notes } from './capabilities/notes/service';
import { Others } from './capabilities/sittings/others';
import { OwnTakes } from './capabilities/sittings/ownTakes';
import { Slips } from './capabilities/people/slips';
import { speechRoutes } from './capabilities/speech/routes';
import { spokenMessageRoutes } from './capabilities/spokenMessages/routes';
import { SpokenMessages } from './capabilities/spokenMessages/service';
import { togetherRoutes } from './capabilities/together/routes';
import { Sharing } from './capabilities/together/sharing';
import { Turns } from './capabilities/together/turns';
import { SpokenSheets } from './capabilities/sittings/sheets';
import { sittingRoutes } from './capabilities/sittings/routes';
import { rosterRoutes } from './capabilities/rosters/routes';
import { Rosters } from './capabilities/rosters/service';
import { Sittings } from './capabilities/sittings/service';
import { schoolSystemRoutes } from './capabilities/schoolSystem/routes';
import { SchoolHandOver } from './capabilities/schoolSystem/service';
import { rubricRoutes } from './capabilities/rubrics/routes';
import { Rubrics } from './capabilities/rubrics/service';
import { tagRoutes } from './capabilities/tags/routes';
import { Tags } from './capabilities/tags/service';
import { policies } from './platform/access/policies';
import { isNameless } from './platform/access/store';
import { ChangeFeed } from './platform/changes/feed';
import type { Config } from './platform/config';
import { ping, type Pool } from './platform/database';
import { DiskFileStore, type FileStore } from './platform/files';
import { headers, sameOrigin } from './platform/guards';
import { JobQueue } from './platform/jobs/queue';
import { log } from './platform/log';
import { Mailer } from './platform/mail/mailer';
import { mailboxRoutes } from './platform/mail/routes';
import { SessionCookies } from './platform/rights/cookies';
import { RememberedRights } from './platform/rights/remembered';
import { forgetRightChanges } from './platform/rights/store';
import { mount, route, type Route } from './platform/routes';
import { forgetExpired, isSecure, keepUsed, sessions } from './platform/sessions';
import { porchOf } from './platform/porch';
import { preloads } from './platform/preloads';
import { Tries } from './platform/tries';
import { DatabaseWatch } from './platform/watch';
import { answerTrouble, databaseAway, notFound } from './platform/trouble';
import { SchoolSystem } from './standIns/schoolSystem';
import type { Worker } from './worker';

/** Ecoute's server, put together: every capability over one pool, one file store and one job queue. */
export interface Ecoute {
  app: Express;
  /** What a server hands each request to: the application, and before it what is asked for hundreds of times a second. */
  listener: RequestListener;
  routes: Route[];
  jobs: JobQueue;
  changes: ChangeFeed;
  rights: RememberedRights;
  recordings: Recordings;
  people: People;
  mailer: Mailer;
  files: FileStore;
  pool: Pool;
  /** Knows whether the database answers. */
  watch: DatabaseWatch;
}

export async function createEcoute(config: Config, pool: Pool, worker: Worker): Promise<Ecoute> {
  const files = new DiskFileStore(join(config.dataDir, 'sounds'));
  // What looks at recordings gathers those that wait; what measures them fills a processor each.
  const jobs = new JobQueue(pool, { inspect: 16, media: Math.max(2, Math.min(8, availableParallelism())) });
  const mailer = new Mailer(config.mail, jobs, pool);
  const tries = new Tries(
    pool,
    config.database.database,
    config.sessionSecret,
    config.relaxedLimits ? 1_000 : 1,
  );
  const watch = new DatabaseWatch(config.database);
  watch.start();
  const recordings = new Recordings(pool, files, jobs, worker, config.quotas);
  await recordings.prepare();
  const people = new People(pool, tries, mailer, config.baseUrl);
  const slips = new Slips(pool, tries, config.baseUrl);
  const allow = policies(pool);
  const sittings = new Sittings(pool, recordings, jobs);
  await sittings.prepare();
  const sharing = new Sharing(pool, recordings, sittings, jobs);
  const turns = new Turns(pool, recordings, sharing, jobs);
  const discussions = new Discussions(pool, recordings, jobs);
  const measures = new TakeMeasures(pool, files, jobs, worker, recordings);
  await measures.prepare();
  const changes = new ChangeFeed(pool);
  const rights = new RememberedRights(pool);
  const cookies = new SessionCookies(config.sessionSecret);
  const quick = new QuickSound(pool, files, rights, cookies, config.sessionSecret);
  const guests = new Guests(pool, recordings, jobs, tries, config.baseUrl);
  const releases = new Releases(pool, jobs, mailer, config.baseUrl);
  await releases.prepare();

  const classes = new Classes(pool, people, slips, mailer, config.baseUrl);
  const departments = new Departments(pool);
  const invitations = new Invitations(pool, {
    class: (db, yes) => classes.accepted(db, yes),
    department: (db, yes) => departments.accepted(db, yes),
  });
  const feedback = new Feedback(pool);
  const spokenSheets = new SpokenSheets(pool);
  const lists = new StudentLists(pool);
  const keeping = new Keeping(pool, recordings, feedback, spokenSheets);
  const leading = new Leading(pool, recordings, discussions);
  const exports = new Exports(pool, jobs, keeping, join(config.dataDir, 'exports'), {
    leading,
    recordings,
    worker,
  });
  await exports.prepare();

  const routes: Route[] = [
    route('get', '/api/health', allow.anyone(), async () => {
      if (watch.isAway) throw databaseAway();
      await ping(pool).catch(() => {
        throw databaseAway();
      });
      return { status: 'ok', now: new Date().toISOString() };
    }),
    ...peopleRoutes(
      allow,
      people,
      slips,
      pool,
      { showsMailbox: config.showsMailbox, sendsMail: config.mail !== null, isSecure: isSecure(config) },
      id => recordings.roomOf(id),
    ),
    ...administrationRoutes(allow, new AdministrationDesk(pool, people, mailer, config)),
    ...invitationRoutes(allow, invitations),
    ...classRoutes(allow, classes),
    ...familyRoutes(allow, new Families(pool)),
    ...rosterRoutes(allow, new Rosters(pool, jobs, worker)),
    ...guestRoutes(allow, guests),
    ...feedRoutes(allow, new Feeds(pool, config.baseUrl)),
    ...(config.showsMailbox ? mailboxRoutes(allow, pool) : []),
    ...assessmentRoutes(allow, new Assessments(pool, recordings, jobs, (db, id) => releases.follow(db, id))),
    ...departmentRoutes(allow, departments),
    ...tagRoutes(allow, new Tags(pool)),
    ...rubricRoutes(allow, new Rubrics(pool)),
    ...packageRoutes(allow, new Packages(pool, files, recordings)),
    ...recordingRoutes(allow, recordings, quick, (personId, id) => isNameless(pool, personId, id)),
    ...releaseRoutes(allow, releases, new Overview(pool)),
    ...holidayRoutes(allow, new Holidays(pool), new Holidays(pool, 'term')),
    ...sittingRoutes(
      allow,
      sittings,
      new OwnTakes(pool, recordings),
      new Others(pool, sittings.handIns),
      spokenSheets,
    ),
    ...togetherRoutes(allow, { sittings, sharing, turns }),
    ...handoverRoutes(allow, new Handovers(pool, sittings, tries, config.baseUrl)),
    ...discussionRoutes(allow, discussions, leading),
    route('get', '/api/changes', allow.someone(), ({ req, person, res }) =>
      changes.open(person().id, res, req.sessionID),
    ),
    ...noteRoutes(allow, new Notes(pool, recordings)),
    ...markRoutes(allow, new Marks(pool, jobs)),
    ...readingRoutes(allow, pool, { lists, feedback, quick }),
    ...resultsRoutes(allow, pool),
    ...speechRoutes(allow, sittings, lists),
    ...keepingRoutes(allow, keeping),
    ...exportRoutes(allow, exports),
    ...schoolSystemRoutes(
      allow,
      new SchoolHandOver(
        pool,
        jobs,
        config.sessionSecret,
        simulatedAt(config),
        // Tests do not wait for a quarter of a minute until somebody is away.
        config.relaxedLimits ? [50, 50] : undefined,
      ),
    ),
    ...portfolioRoutes(allow, new Portfolios(pool, recordings, jobs, config.baseUrl)),
    ...spokenMessageRoutes(allow, new SpokenMessages(pool, recordings, jobs, mailer, config.baseUrl)),
    ...podcastRoutes(
      allow,
      new Podcasts(pool, recordings, config.baseUrl),
      new TalkFeeds(pool, recordings, leading, config.baseUrl),
    ),
    ...commentBankRoutes(allow, new CommentBank(pool, recordings)),
    ...evidenceRoutes(allow, measures),
    ...markupRoutes(allow, new Markups(pool)),
    ...replyRoutes(allow, new Replies(pool, recordings)),
    ...decisionRoutes(allow, new Decisions(pool)),
    ...listenerRoutes(allow, new Listeners(pool)),
  ];

  const app = express();
  app.disable('x-powered-by');
  // Nothing that is answered here is kept by a browser; files have tags of their own.
  app.disable('etag');
  // Only proxies that are named are believed when they say where somebody comes from.
  app.set('trust proxy', config.proxies ?? false);
  app.locals.tagSecret = config.sessionSecret;
  // Before all else: what is asked for hundreds of times a second.
  app.use(recordings.quickPieces(rights, cookies));
  app.use(...headers(isSecure(config)));
  app.use(pinoHttp({ logger: log, autoLogging: false }));
  // Files are compressed well; answers, of which the lanes of a school are megabytes, quickly.
  const [well, quickly] = [compression(), compression({ level: 1, brotli: QUICK_BROTLI })];
  app.use((req, res, next) => (req.path.startsWith('/api/') ? quickly : well)(req, res, next));
  const sessionHandler = sessions(config, pool);
  jobs.onSweep(() => forgetExpired(pool));
  jobs.onSweep(() => forgetRightChanges(pool));
  jobs.onSweep(() => addUp(pool));
  app.use('/api', (req, res, next) => {
    res.setHeader('Cache-Control', 'no-store');
    // Health must answer while the database, and with it the session store, is away.
    if (req.path === '/health') return next();
    // Nobody waits for a database that does not answer.
    if (watch.isAway) return next(databaseAway());
    sessionHandler(req, res, next);
  });
  app.use('/api', keepUsed, slips.watch, sameOrigin, express.json({ limit: '2mb' }));
  mount(app, routes);
  // Beside Ecoute, and asked by it over the network as another system is.
  if (config.simulatedSchool)
    app.use(
      '/school-system',
      new SchoolSystem(config.simulatedSchool, join(config.dataDir, 'school-system.json')).router(),
    );
  app.use('/api', (_req, _res, next) => next(notFound()));
  serveInterface(app, config.webDir, () => people.needsFirstTeacher());
  app.use(answerTrouble);
  const listener: RequestListener = (req, res) => quick.serve(req, res, () => app(req, res));
  return { app, listener, routes, jobs, changes, rights, recordings, people, mailer, files, pool, watch };
}

/** Where the simulated school system is, for Ecoute itself; null outside the demo. */
function simulatedAt({ simulatedSchool, tls, host, port }: Config) {
  if (!simulatedSchool) return null;
  const baseUrl = `${tls ? 'https' : 'http'}://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}/school-system`;
  return { baseUrl, tokenUrl: `${baseUrl}/token`, clientId: 'ecoute', secret: 'lantern-herring' };
}

/** A quarter of the time of the usual way, for a tenth more bytes: measured on three thousand lanes. */
const QUICK_BROTLI = { params: { [constants.BROTLI_PARAM_QUALITY]: 1 } };

/** The build lays what is compressed beside each file. */
const PACKED = { enableBrotli: true, orderPreference: ['br'], index: false };

/**
 * The built interface: hashed files for good, the page itself always fresh and with its nonce.
 * @param isEmpty nobody is here yet: the first visit makes the first teacher, and signs nobody in
 */
function serveInterface(app: Express, webDir: string, isEmpty: () => Promise<boolean>): void {
  const page = join(webDir, 'index.html');
  if (!existsSync(page)) return;
  const html = readFileSync(page, 'utf8');
  const needs = preloads(webDir);
  const porch = porchOf(webDir);
  app.use(
    '/assets',
    expressStaticGzip(join(webDir, 'assets'), {
      ...PACKED,
      serveStatic: { immutable: true, maxAge: '1y', fallthrough: false, dotfiles: 'allow' },
    }),
  );
  app.use(expressStaticGzip(webDir, { ...PACKED, serveStatic: { dotfiles: 'allow' } }));
  app.get('/{*path}', async (req, res) => {
    const hasPorch = porch.isWanted(req) && !(await isEmpty().catch(() => true));
    const body = hasPorch ? porch.put(req, html) : html;
    res
      .set('Cache-Control', 'no-store')
      .type('html')
      .send(
        body
          .replace('</head>', `${needs(hasPorch ? '/sign-in' : req.path)}</head>`)
          .replaceAll('__NONCE__', String(res.locals.nonce)),
      );
  });
}
