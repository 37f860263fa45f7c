// Firefox, by the W3C's WebDriver BiDi protocol over a web socket (node --experimental-websocket).
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const PREFERENCES = {
  'media.navigator.streams.fake': true,
  'media.navigator.permission.disabled': true,
  'media.autoplay.default': 0,
  'remote.active-protocols': 1,
  'datareporting.policy.dataSubmissionEnabled': false,
  'app.update.auto': false,
};

/** @param env with a sound card @returns a tab: `goto`, `run` a function of the page, `click` what one finds, `close` */
export async function firefox(env) {
  const profile = mkdtempSync(join(tmpdir(), 'ecoute-firefox-'));
  writeFileSync(
    join(profile, 'user.js'),
    Object.entries(PREFERENCES)
      .map(([name, value]) => `user_pref(${JSON.stringify(name)}, ${JSON.stringify(value)});`)
      .join('\n'),
  );
  const program = spawn(
    'firefox-esr',
    ['--headless', '--no-remote', '--profile', profile, '--remote-debugging-port', '0'],
    { env: { ...env, HOME: profile }, stdio: ['ignore', 'ignore', 'pipe'] },
  );
  const address = await new Promise((resolve, reject) => {
    let said = '';
    program.stderr.on('data', chunk => {
      said += chunk;
      const found = /WebDriver BiDi listening on (ws:\S+)/.exec(said);
      if (found) resolve(found[1]);
    });
    program.once('exit', code => reject(new Error(`Firefox ended with ${code}: ${said}`)));
    setTimeout(() => reject(new Error(`Firefox did not start: ${said}`)), 60_000).unref();
  });
  const socket = new WebSocket(`${address}/session`);
  await new Promise((resolve, reject) => {
    socket.onopen = resolve;
    socket.onerror = () => reject(new Error('no connection to Firefox'));
  });
  const waiting = new Map();
  socket.onmessage = ({ data }) => {
    const { id, result, error, message } = JSON.parse(data);
    if (!waiting.has(id)) return;
    const { resolve, reject } = waiting.get(id);
    waiting.delete(id);
    if (error) reject(new Error(`${error}: ${message}`));
    else resolve(result);
  };
  let last = 0;
  const call = (method, params) =>
    new Promise((resolve, reject) => {
      waiting.set(++last, { resolve, reject });
      socket.send(JSON.stringify({ id: last, method, params }));
    });
  const { capabilities } = await call('session.new', { capabilities: {} });
  const { contexts } = await call('browsingContext.getTree', {});
  const { context } = contexts[0];
  const run = async (work, ...args) => {
    const { type, result, exceptionDetails } = await call('script.callFunction', {
      functionDeclaration: `async (...args) => JSON.stringify((await (${work})(...args)) ?? null)`,
      arguments: args.map(value => ({ type: typeof value, value })),
      target: { context },
      awaitPromise: true,
      userActivation: true,
    });
    if (type === 'exception') throw new Error(exceptionDetails.text);
    return JSON.parse(result.value);
  };
  return {
    name: `Firefox ${capabilities.browserVersion}`,
    goto: url => call('browsingContext.navigate', { context, url, wait: 'complete' }),
    run,
    click: (find, ...args) =>
      run(
        `(...args) => { const found = (${find})(...args); found?.click(); return Boolean(found); }`,
        ...args,
      ),
    close: async () => {
      socket.close();
      program.kill();
      await new Promise(resolve => program.once('exit', resolve));
      rmSync(profile, { recursive: true, force: true });
    },
  };
}
