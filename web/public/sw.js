// Keeps the app's own files, so that a bench opens and goes on without a network. What is weighed meanwhile waits in the page's own store.
const shell = 'falda-shell'
const answers = 'falda-answers' // who is here, and the shop: without them a page cannot begin
const kept = ['/api/v1/me', '/api/v1/shop']
const isKept = (path) => kept.includes(path) || (path.startsWith('/words/') && path !== '/words/en.json')

self.addEventListener('install', (e) => e.waitUntil(refresh().then(ask).then(() => self.skipWaiting())))
self.addEventListener('activate', (e) => e.waitUntil(self.clients.claim()))

/** Fetches what this build is made of and is not here yet; what an older build left goes. */
async function refresh() {
  const list = await (await fetch('/files.json', { cache: 'no-store' })).json()
  const wanted = new Set(['/falda.svg'])
  for (const f of Object.values(list)) for (const path of [f.file, ...(f.css ?? []), ...(f.assets ?? [])]) wanted.add(`/${path}`)
  const cache = await caches.open(shell)
  for (const key of await cache.keys()) {
    const { pathname } = new URL(key.url)
    if (wanted.has(pathname)) wanted.delete(pathname)
    else if (pathname !== '/') await cache.delete(key)
  }
  await cache.addAll([...wanted, '/'])
}

/** Keeps who is here and the shop, which the first page asked for before this stood between it and the network. */
async function ask() {
  for (const path of kept) await answer(new Request(path)).catch(() => undefined)
}

async function page(event) {
  try {
    const fresh = await fetch(event.request)
    if (fresh.status < 500) {
      event.waitUntil(refresh().catch(() => undefined))
      return fresh
    }
  } catch {
    // no network: the page that is here
  }
  return (await caches.match('/')) ?? Response.error()
}

async function file(request) {
  const here = await caches.match(request)
  if (here) return here
  const got = await fetch(request)
  if (got.ok) await (await caches.open(shell)).put(request, got.clone())
  return got
}

async function answer(request) {
  const cache = await caches.open(answers)
  try {
    const got = await fetch(request)
    if (got.ok) await cache.put(request, got.clone())
    return got
  } catch (e) {
    const here = await cache.match(request)
    if (here) return here
    throw e
  }
}

self.addEventListener('fetch', (event) => {
  const url = new URL(event.request.url)
  if (url.origin !== self.location.origin) return
  if (event.request.method !== 'GET') {
    // who comes or goes takes with them what was known of them
    if (url.pathname.startsWith('/api/v1/session')) event.waitUntil(caches.delete(answers))
    return
  }
  if (event.request.mode === 'navigate' && !url.pathname.startsWith('/api/')) event.respondWith(page(event))
  else if (url.pathname.startsWith('/assets/') || url.pathname === '/falda.svg') event.respondWith(file(event.request))
  else if (isKept(url.pathname)) event.respondWith(answer(event.request))
})
