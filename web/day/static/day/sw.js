// Keeps the pages of the day, Ask and the drill answering without a signal: what a page put into a cache named "day-…" is
// given out when the network does not answer, to the person whose phone this is now. Nothing else is touched. A page of
// the app that was not kept says so, and which are.
const PAGE = /^\/(day\/(\d+\/((water|log)\/)?)?|colours\/ask\/|teach\/drill\/)$/, WAIT_MS = 4000;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

async function mine() {
  const who = await (await (await caches.open("wax-who")).match("/who"))?.text();
  return who && (await caches.has(`day-${who}`)) ? caches.open(`day-${who}`) : null;
}

async function kept(request) {
  const cache = await mine();
  const found = await cache?.match(request, { ignoreSearch: true, ignoreVary: true });
  return found ? [cache, found] : [null, null];
}

// The page from the network, and kept anew; from the cache when that fails or takes long.
async function page(request) {
  const [cache, held] = await kept(request);
  const asked = fetch(request).then(async (answer) => {
    if (held && answer.ok && !answer.redirected) await cache.put(request, answer.clone());
    return answer;
  });
  if (!held) return asked.catch(() => notKept(new URL(request.url).pathname));
  const late = new Promise((resolve) => setTimeout(() => resolve(held), WAIT_MS));
  return Promise.race([asked.then((answer) => (answer.status >= 500 ? held : answer)), late]).catch(() => held);
}

// The trip that was kept last opens from the first screen; else our own words on what is here.
async function notKept(path) {
  const cache = await mine(), pages = ((await cache?.keys()) ?? []).map((one) => new URL(one.url).pathname).filter((one) => PAGE.test(one));
  const trip = pages.findLast((one) => /^\/day\/\d+\/water\/$/.test(one));
  if (path === "/day/" && trip) return Response.redirect(trip);
  const names = { water: "On the water", log: "The log of a trip", ask: "Ask", drill: "The drill" };
  const listed = pages.map((one) => `<li><a href="${one}">${names[one.split("/").at(-2)] ?? "The evening before"}</a></li>`).join("");
  const words = `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>No signal · Wax Crate</title><body><h1>No signal, and this page is not on this phone.</h1><p>${listed ? "What is:" : "A trip is kept here when it is opened once with a signal."}</p><ul>${listed}</ul></body></html>`;
  return new Response(words, { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } });
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
