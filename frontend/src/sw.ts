/// <reference lib="webworker" />
import { ExpirationPlugin } from 'workbox-expiration'
import {
  cleanupOutdatedCaches,
  createHandlerBoundToURL,
  precacheAndRoute,
  type PrecacheEntry,
} from 'workbox-precaching'
import { NavigationRoute, registerRoute } from 'workbox-routing'
import { NetworkFirst } from 'workbox-strategies'
import { SEEN_AT_HEADER, SEEN_CACHE } from '@/api/reach'

/**
 * Opens the application without the server, and answers with what this device last saw while there is none.
 * What changes something passes it by: the pages keep that themselves.
 */
declare const self: ServiceWorkerGlobalScope & { __WB_MANIFEST: PrecacheEntry[] }

/** A visit is about thirty answers. */
const MOST_ANSWERS = 600
/** After so long a network that is there but does not answer counts as none. */
const PATIENCE_S = 6
const NO_PAGE = [/^\/api\//, /^\/assets\//, /^\/authority\.crt$/]
/** Streams, files to save and pictures are had from the server or not at all. */
const NOT_KEPT = /\/live$|\/trace$|\.(?:pdf|csv|zip|ics|json)$|\/picture$|\/photograph$|\/backup/

cleanupOutdatedCaches()
precacheAndRoute(self.__WB_MANIFEST)
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: NO_PAGE }))

const seenAt = 'X-Kept-At'

registerRoute(
  ({ url, request, sameOrigin }) =>
    sameOrigin &&
    request.method === 'GET' &&
    url.pathname.startsWith('/api/') &&
    !NOT_KEPT.test(url.pathname),
  new NetworkFirst({
    cacheName: SEEN_CACHE,
    networkTimeoutSeconds: PATIENCE_S,
    plugins: [
      new ExpirationPlugin({ maxEntries: MOST_ANSWERS, purgeOnQuotaError: true }),
      {
        cacheWillUpdate: async ({ response }) =>
          response.ok && (response.headers.get('Content-Type') ?? '').includes('json')
            ? withHeader(response, seenAt, new Date().toISOString())
            : null,
        cachedResponseWillBeUsed: async ({ cachedResponse }) =>
          cachedResponse &&
          withHeader(cachedResponse, SEEN_AT_HEADER, cachedResponse.headers.get(seenAt) ?? ''),
      },
    ],
  }),
)

function withHeader(response: Response, name: string, value: string): Response {
  const headers = new Headers(response.headers)
  headers.set(name, value)
  return new Response(response.body, { status: response.status, headers })
}

self.addEventListener('message', (event: ExtendableMessageEvent) => {
  if ((event.data as { type?: string } | null)?.type === 'SKIP_WAITING') void self.skipWaiting()
})
