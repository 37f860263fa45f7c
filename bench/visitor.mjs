// What the benches share: somebody with a session, memory of the server, quantiles.
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { connect } from 'node:net';

/** @param share from 0 (the least) to 1 (the most) */
export const nth = (values, share) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * share))];

/** What a process holds in memory. In MB */
export const memoryOf = pid =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1]) / 1024;

/**
 * Somebody with a browser of their own, over keep-alive connections.
 * @returns `ask`, which throws for a refusal; `answer`, which tells its status instead; `headers` for requests of one's own
 */
export function visitor(base) {
  const jar = new Map();
  const headers = () => ({ Cookie: [...jar].map(([name, value]) => `${name}=${value}`).join('; ') });
  const answer = async (method, path, body, more = {}) => {
    const isRaw = body instanceof Uint8Array || typeof body === 'string';
    const response = await fetch(base + path, {
      method,
      headers: {
        Origin: base,
        ...headers(),
        ...(body && !isRaw && { 'Content-Type': 'application/json' }),
        ...more,
      },
      body: body && (isRaw ? body : JSON.stringify(body)),
    });
    for (const cookie of response.headers.getSetCookie()) {
      const [name, value] = cookie.split(';')[0].split('=', 2);
      jar.set(name, value);
    }
    const text = await response.text();
    const isJson = text && response.headers.get('content-type')?.includes('json');
    return { status: response.status, body: isJson ? JSON.parse(text) : null, text };
  };
  const ask = async (method, path, body, more) => {
    const { status, body: found, text } = await answer(method, path, body, more);
    if (status >= 400) throw new Error(`${method} ${path}: ${status} ${text}`);
    return found;
  };
  return { ask, answer, headers };
}

/** A student's recording of an answer, as a file they bring. @returns its id */
export async function brought(student, sittingId, itemId, bytes) {
  const recordingId = randomUUID();
  await student.ask('POST', `/api/sittings/${sittingId}/takes`, {
    recordingId,
    itemId,
    mediaType: 'audio/ogg',
    beganAt: new Date().toISOString(),
    fileName: null,
  });
  await student.ask('PATCH', `/api/uploads/${recordingId}`, bytes, {
    'Tus-Resumable': '1.0.0',
    'Content-Type': 'application/offset+octet-stream',
    'Upload-Offset': '0',
    'Upload-Length': String(bytes.length),
  });
  return recordingId;
}

/**
 * A connection of one's own that is kept, with as little around it as there can be: what a client costs is not what is measured.
 * @returns `ask`, one request after the other, which resolves with the status; `end`
 */
export async function wire(address) {
  const { hostname, port } = new URL(address);
  const socket = connect({ host: hostname, port: Number(port), noDelay: true });
  await new Promise((resolve, reject) => socket.once('connect', resolve).once('error', reject));
  let waiting = null;
  let came = '';
  socket.setEncoding('latin1');
  socket.on('data', text => {
    came += text;
    const end = came.indexOf('\r\n\r\n');
    if (end < 0) return;
    const length = Number(/\r\ncontent-length: (\d+)/i.exec(came.slice(0, end))?.[1] ?? 0);
    if (came.length < end + 4 + length) return;
    const status = Number(came.slice(9, 12));
    came = '';
    waiting.resolve(status);
  });
  socket.on('error', error => waiting?.reject(error));
  socket.on('close', () => waiting?.reject(new Error('The connection was closed.')));
  return {
    ask: (method, path, headers, body = Buffer.alloc(0)) =>
      new Promise((resolve, reject) => {
        waiting = { resolve, reject };
        const lines = Object.entries({
          Host: `${hostname}:${port}`,
          ...headers,
          'Content-Length': body.length,
        });
        socket.cork();
        socket.write(`${method} ${path} HTTP/1.1\r\n${lines.map(([k, v]) => `${k}: ${v}\r\n`).join('')}\r\n`);
        socket.write(body);
        socket.uncork();
      }),
    end: () => {
      waiting = null;
      socket.destroy();
    },
  };
}
