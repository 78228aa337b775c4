// Keeps the page of a phone beside a machine, with its drawings, for when there is no
// connection. What is live is never kept.
const cacheName = "chalkstep-station";

addEventListener("install", () => skipWaiting());
addEventListener("activate", (event) => event.waitUntil(clients.claim()));

addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin || /\/(news|state|restart|press)$/.test(url.pathname)) return;
  const forGood = url.pathname.startsWith("/static/") || url.pathname.includes("/picture/");
  event.respondWith(forGood ? cacheFirst(request) : networkFirst(request));
});

async function cacheFirst(request) {
  const cache = await caches.open(cacheName);
  const found = await cache.match(request);
  if (found) return found;
  const answer = await fetch(request);
  if (answer.ok) await cache.put(request, answer.clone());
  return answer;
}

async function networkFirst(request) {
  const cache = await caches.open(cacheName);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  } catch (error) {
    const found = await cache.match(request);
    if (found) return found;
    throw error;
  }
}
