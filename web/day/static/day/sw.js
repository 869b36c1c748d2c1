// Keeps the pages of the day and the drill answering without a signal: what a page put into a cache named "day-…" is
// given out when the network does not answer, to the person whose phone this is now. Nothing else is touched.
const PAGE = /^\/(day\/\d+\/water|teach\/drill)\/$/, WAIT_MS = 4000;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function kept(request) {
  const who = await (await (await caches.open("wax-who")).match("/who"))?.text();
  if (!who || !(await caches.has(`day-${who}`))) return [null, null];
  const name = `day-${who}`;
  const found = await (await caches.open(name)).match(request, { ignoreSearch: true, ignoreVary: true });
  return found ? [name, found] : [null, null];
}

// The page from the network, and kept anew; from the cache when that fails or takes long.
async function page(request) {
  const [name, held] = await kept(request);
  const asked = fetch(request).then(async (answer) => {
    if (held && answer.ok && !answer.redirected) await (await caches.open(name)).put(request, answer.clone());
    return answer;
  });
  if (!held) return asked;
  const late = new Promise((resolve) => setTimeout(() => resolve(held), WAIT_MS));
  return Promise.race([asked.then((answer) => (answer.status >= 500 ? held : answer)), late]).catch(() => held);
}

async function file(request) {
  const [, held] = await kept(request);
  return held ?? fetch(request);
}

self.addEventListener("fetch", (event) => {
  const { request } = event, url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== self.location.origin) return;
  if (request.mode === "navigate" && PAGE.test(url.pathname)) event.respondWith(page(request));
  else if (url.pathname.startsWith("/static/")) event.respondWith(file(request));
});
