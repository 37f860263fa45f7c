import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { TestEcoute } from '../testing/ecoute';
import { mount, type Route } from './routes';

describe('what every request meets', () => {
  let t: TestEcoute;
  let webDir: string;
  beforeAll(async () => {
    webDir = mkdtempSync(join(tmpdir(), 'ecoute-web-'));
    mkdirSync(join(webDir, 'assets'));
    writeFileSync(
      join(webDir, 'index.html'),
      '<meta name="csp-nonce" content="__NONCE__"><title>Ecoute</title>',
    );
    writeFileSync(join(webDir, 'assets/app-1.js'), 'export {};');
    t = await TestEcoute.open({ webDir });
  });
  afterAll(async () => {
    await t.close();
    rmSync(webDir, { recursive: true });
  });

  it('gives the page a nonce of its own each time, the one in its policy', async () => {
    const nonces = await Promise.all(
      [1, 2].map(async () => {
        const page = await fetch(`${t.base}/set/anything`);
        const inPage = /content="([^"]+)"/.exec(await page.text())![1]!;
        expect(page.headers.get('content-security-policy')).toContain(`'nonce-${inPage}'`);
        expect(page.headers.get('cache-control')).toBe('no-store');
        return inPage;
      }),
    );
    expect(nonces[0]).not.toBe(nonces[1]);
  });

  it('keeps hashed files for good, and a missing one is missing', async () => {
    const found = await fetch(`${t.base}/assets/app-1.js`);
    expect(found.headers.get('cache-control')).toContain('immutable');
    expect((await fetch(`${t.base}/assets/app-0.js`)).status).toBe(404);
  });

  it.each(['null', 'http://evil.example', 'not an origin', 'http://127.0.0.1:1'])(
    'refuses a write from origin %s',
    async origin => {
      const { status, body } = await t
        .visitor()
        .ask('POST', '/api/session', { signInName: 'a', password: 'b' }, { Origin: origin });
      expect([status, body.code]).toEqual([403, 'wrongOrigin']);
    },
  );

  it('answers nonsense in the one shape of an error', async () => {
    const person = await t.person('teacher');
    const broken = await fetch(`${t.base}/api/session`, {
      method: 'POST',
      headers: { Origin: t.base, 'Content-Type': 'application/json' },
      body: '{"signInName":',
    });
    expect([broken.status, ((await broken.json()) as { code: string }).code]).toEqual([422, 'invalid']);
    const huge = await person.ask('POST', '/api/classes', { name: 'x'.repeat(3_000_000), subject: 'music' });
    expect([huge.status, huge.body.code]).toEqual([413, 'tooLarge']);
    const unknown = await person.ask('GET', '/api/nothing/here');
    expect([unknown.status, unknown.body.code]).toEqual([404, 'notFound']);
    for (const path of ['/api/classes/', '/api/classes/%00', '/api/classes/..%2F..%2Fetc'])
      expect((await person.ask('GET', path)).status).toBeLessThan(500);
  });

  it('never lets an answer about people be kept by the browser', async () => {
    const person = await t.person('teacher');
    for (const path of ['/api/session', '/api/classes', '/api/releases', '/api/assessments'])
      expect((await person.ask('GET', path)).headers.get('cache-control')).toBe('no-store');
  });

  it('does not start with a route that names no policy', () => {
    const route = {
      method: 'get',
      path: '/api/open',
      policy: undefined,
      handle: async () => null,
    } as unknown as Route;
    expect(() => mount(t.ecoute.app, [route])).toThrow('GET /api/open names no access policy.');
  });
});
