/* global self, caches, fetch, Headers, Response, URL */
/**
 * Opens Ecoute without a network, so that a sitting that is open goes on. Pages and what the server says come from
 * the network while there is one; what was seen last is kept for when there is none. Nothing is sent from here:
 * recordings and the account of a sitting go from the page itself, out of its own store.
 */
const SHELL = 'ecoute-shell';
const SAID = 'ecoute-said';

/** What the server said that an open sitting needs: who is signed in, the sitting, its sounds and pictures. */
const KEPT = [
  /^\/api\/session$/,
  /^\/api\/phone$/,
  /^\/api\/sittings\/[0-9a-f-]+$/,
  /^\/api\/recordings\/[0-9a-f-]+\/(sound|peaks|shown|details)$/,
];

/** Brings the kept files up to the newest list; files of an older build go. */
async function refresh() {
  const answer = await fetch('/offline.json', { cache: 'no-store' });
  if (!answer.ok) return;
  const { files } = await answer.json();
  const shell = await caches.open(SHELL);
  const here = new Set((await shell.keys()).map(r => new URL(r.url).pathname));
  await Promise.all(files.filter(f => !here.has(f)).map(f => shell.add(f)));
  const wanted = new Set([...files, '/']);
  await Promise.all([...here].filter(f => !wanted.has(f)).map(f => shell.delete(f)));
  await shell.add('/');
}

self.addEventListener('install', event => {
  event.waitUntil(refresh().then(() => self.skipWaiting()));
});
self.addEventListener('activate', event => {
  event.waitUntil(self.clients.claim());
});
/** Whoever signs out takes along what was said to them. */
self.addEventListener('message', event => {
  if (event.data === 'forget') event.waitUntil(caches.delete(SAID));
});

async function page(request) {
  try {
    const answer = await fetch(request);
    void refresh().catch(() => undefined);
    return answer;
  } catch {
    return (await caches.match('/')) ?? Response.error();
  }
}

async function file(request) {
  return (await caches.match(request, { ignoreSearch: true })) ?? fetch(request);
}

/** A stretch of a kept sound, as players ask for it. */
async function stretch(kept, range) {
  const bytes = await kept.arrayBuffer();
  const [, from, to] = /^bytes=(\d+)-(\d*)$/.exec(range) ?? [];
  if (from === undefined) return new Response(bytes, { headers: kept.headers });
  const start = Number(from);
  const end = to ? Math.min(Number(to), bytes.byteLength - 1) : bytes.byteLength - 1;
  const headers = new Headers(kept.headers);
  headers.set('Content-Range', `bytes ${start}-${end}/${bytes.byteLength}`);
  headers.set('Content-Length', String(end - start + 1));
  return new Response(bytes.slice(start, end + 1), { status: 206, headers });
}

async function said(request) {
  const range = request.headers.get('range');
  try {
    const answer = await fetch(request);
    if (answer.status === 200 && !range) {
      const copy = answer.clone();
      void caches
        .open(SAID)
        .then(cache => cache.put(request.url, copy))
        .catch(() => undefined);
    }
    return answer;
  } catch {
    const kept = await caches.match(request.url, { cacheName: SAID });
    if (!kept) return Response.error();
    return range ? stretch(kept, range) : kept;
  }
}

self.addEventListener('fetch', event => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  if (request.mode === 'navigate') event.respondWith(page(request));
  else if (url.pathname.startsWith('/assets/') || url.pathname === '/icon.svg')
    event.respondWith(file(request));
  else if (KEPT.some(k => k.test(url.pathname))) event.respondWith(said(request));
});
