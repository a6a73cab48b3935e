// The shell of the pages, kept in this browser: reloaded while the server is away, a page is still drawn. What it shows
// is kept elsewhere (api/server/lastPage.ts); nothing of /api passes here.
const SHELL = '__SHELL__'
const FILES = __FILES__
/** So long a server is waited for before the kept page is drawn. */
const PATIENCE_MS = 2000

self.addEventListener('install', (event) => {
  const kept = caches.open(SHELL).then((cache) => cache.addAll(FILES))
  event.waitUntil(kept.then(() => self.skipWaiting()))
})

self.addEventListener('activate', (event) => {
  const older = caches.keys().then((names) => names.filter((name) => name !== SHELL))
  event.waitUntil(
    older
      .then((names) => Promise.all(names.map((name) => caches.delete(name))))
      .then(() => self.clients.claim()),
  )
})

self.addEventListener('fetch', (event) => {
  const { request } = event
  const { origin, pathname } = new URL(request.url)
  if (request.method !== 'GET' || origin !== self.location.origin || pathname.startsWith('/api/')) return
  if (request.mode === 'navigate')
    event.respondWith(fetch(request, { signal: AbortSignal.timeout(PATIENCE_MS) }).catch(() => caches.match('/')))
  else event.respondWith(caches.match(request).then((kept) => kept ?? fetch(request)))
})
