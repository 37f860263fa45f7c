/* global self, caches, fetch, Headers, Response, URL */
/**
 * Opens Ecoute without a network, so that a sitting that is open goes on. Pages and what the server says come from
 * the network while there is one; what was seen last is kept for when there is none. Nothing is sent from here:
 * recordings and the account of a sitting go from the page itself, out of its own store.
 */
const SHELL = 'ecoute-shell';
const SAID = 'ecoute-said';

/** What the server said that an open sitting needs: who is signed in, the sitting … */
const KEPT = [/^\/api\/session$/, /^\/api\/phone$/, /^\/api\/sittings\/[0-9a-f-]+$/];
/** … and its sounds and pictures. A teacher who listens to a class fills no device: theirs are not kept. */
const HEARD = /^\/api\/recordings\/[0-9a-f-]+\/(sound|peaks|shown|details)$/;
/** As many of them, each of at most so many bytes; the oldest go first. */
const MOST_HEARD = 80;
const LARGEST_BYTES = 20 * 1024 * 1024;

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

/** Keeps an answer; of sounds and pictures only the newest. */
async function keep(url, copy, isHeard) {
  const cache = await caches.open(SAID);
  await cache.put(url, copy);
  if (!isHeard) return;
  const heard = (await cache.keys()).filter(r => HEARD.test(new URL(r.url).pathname));
  await Promise.all(heard.slice(0, Math.max(0, heard.length - MOST_HEARD)).map(r => cache.delete(r)));
}

/** Whether who is signed in may be sitting something. The address of a page does not tell: it stays the first one. */
async function maySit() {
  const kept = await caches.match(new URL('/api/session', self.location.origin).href, { cacheName: SAID });
  if (!kept) return true;
  const { me } = await kept.json();
  return me?.role !== 'teacher';
}

async function said(request) {
  const range = request.headers.get('range');
  try {
    const answer = await fetch(request);
    const isHeard = HEARD.test(new URL(request.url).pathname);
    const isSmall = Number(answer.headers.get('content-length') ?? 0) <= LARGEST_BYTES;
    if (answer.status === 200 && !range && isSmall && (!isHeard || (await maySit().catch(() => true))))
      void keep(request.url, answer.clone(), isHeard).catch(() => undefined);
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
  else if ([...KEPT, HEARD].some(k => k.test(url.pathname))) event.respondWith(said(request));
});
