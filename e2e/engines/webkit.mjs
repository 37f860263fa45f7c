// The engine of tablets and phones, by the W3C's WebDriver protocol over HTTP.
import { spawn } from 'node:child_process';

const BROWSER = '/usr/lib/x86_64-linux-gnu/webkit2gtk-4.1/MiniBrowser';

/** @param env with a display and a sound card @returns a tab: `goto`, `run` a function of the page, `click` what one finds, `close` */
export async function webkit(env) {
  const port = 20_000 + (process.pid % 20_000);
  const driver = spawn('WebKitWebDriver', [`--port=${port}`, '--host=127.0.0.1'], { env, stdio: 'ignore' });
  const call = async (method, path, body) => {
    const response = await fetch(`http://127.0.0.1:${port}${path}`, {
      method,
      body: body && JSON.stringify(body),
    });
    const { value } = await response.json();
    if (value?.error) throw new Error(`${value.error}: ${value.message}`);
    return value;
  };
  const args = [
    '--automation',
    '--enable-media-stream=true',
    '--enable-mock-capture-devices=true',
    '--enable-webaudio=true',
    '--media-playback-requires-user-gesture=false',
  ];
  const wish = { capabilities: { alwaysMatch: { 'webkitgtk:browserOptions': { binary: BROWSER, args } } } };
  let session = null;
  for (let tries = 0; !session; tries++)
    try {
      session = await call('POST', '/session', wish);
    } catch (error) {
      if (tries > 40) throw error;
      await new Promise(resolve => setTimeout(resolve, 250));
    }
  const base = `/session/${session.sessionId}`;
  const run = (work, ...args) =>
    call('POST', `${base}/execute/async`, {
      script: `const done = arguments[arguments.length - 1];
        Promise.resolve((${work}).apply(null, arguments)).then(value => done({ value }), error => done({ error: String(error) }))`,
      args,
    }).then(({ value, error }) => {
      if (error) throw new Error(error);
      return value ?? null;
    });
  return {
    name: `WebKit ${session.capabilities.browserVersion}`,
    goto: url => call('POST', `${base}/url`, { url }),
    run,
    // With a hand, as it were: this engine lets a page sound only for somebody who pressed something.
    click: async (find, ...args) => {
      const element = await run(find, ...args);
      if (!element) return false;
      await call('POST', `${base}/element/${Object.values(element)[0]}/click`, {});
      return true;
    },
    close: async () => {
      await call('DELETE', base).catch(() => undefined);
      driver.kill();
    },
  };
}
