// Keeps the pages of the day, the tackle box, Ask and the drill answering without a signal: what a page put into a cache named "day-…" is
// given out when the network does not answer, to the person whose phone this is now. Nothing else is touched. A page of
// the app that was not kept says so, and which are.
const PAGE = /^\/(day\/(\d+\/((water|log)\/)?)?|crate\/|colours\/ask\/|teach\/drill\/)$/, WAIT_MS = 4000;

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
  const old = async () => asOf(held.clone());
  const late = new Promise((resolve) => setTimeout(() => resolve(old()), WAIT_MS));
  return Promise.race([asked.then((answer) => (answer.status >= 500 ? old() : answer)), late]).catch(old);
}

// A page as it was when it was kept, which says so: it is not the state of things.
async function asOf(held) {
  const when = new Date(held.headers.get("date")).toLocaleString([], { weekday: "long", day: "numeric", month: "long", hour: "numeric", minute: "2-digit" });
  const words = `<p class="kept-note" role="status">No signal: this page is as of ${when}.</p>`;
  const headers = new Headers(held.headers);
  for (const name of ["content-encoding", "content-length"]) headers.delete(name);
  return new Response((await held.text()).replace(/<body[^>]*>/, (body) => body + words), { status: held.status, headers });
}

// Which trip a kept page is of, and when that is: as the server told.
function tripOf(answer) {
  try { return JSON.parse(answer.headers.get("x-wax-trip")); } catch { return null; }
}

// The trip that goes on now; else the next one to come; else the one that ended last.
function nowOf(trips) {
  const now = Date.now(), on = trips.filter(({ trip }) => trip.from <= now && now < trip.until), later = trips.filter(({ trip }) => trip.from > now);
  const by = (name, sign) => (one, other) => sign * (one.trip[name] - other.trip[name]);
  return on.sort(by("from", -1))[0] ?? later.sort(by("from", 1))[0] ?? trips.sort(by("until", -1))[0];
}

// The trip of now opens from the first screen; else our own words on what is here.
async function notKept(path) {
  const cache = await mine(), kept = [];
  for (const request of (await cache?.keys()) ?? []) {
    const at = new URL(request.url).pathname;
    if (PAGE.test(at)) kept.push({ at, trip: tripOf(await cache.match(request)) });
  }
  const now = nowOf(kept.filter(({ at, trip }) => trip && /^\/day\/\d+\/water\/$/.test(at)));
  if (path === "/day/" && now) return Response.redirect(now.at);
  const names = { water: "On the water", log: "The log", crate: "Tackle box", ask: "What to throw", drill: "The drill" }, plain = (text) => text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
  const listed = kept.map(({ at, trip }) => `<li><a href="${at}">${names[at.split("/").at(-2)] ?? "The evening before"}${trip ? `: ${plain(trip.name)}` : ""}</a></li>`).join("");
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
  if (request.mode === "navigate") event.respondWith(PAGE.test(url.pathname) ? page(request) : fetch(request).catch(() => notKept(url.pathname)));
  else if (url.pathname.startsWith("/static/")) event.respondWith(file(request));
});
