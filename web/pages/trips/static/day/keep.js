// Keeps a trip's page on this phone: the page with all that it shows, in a cache that the service worker gives out.
(() => {
  const cacheOf = (owner) => `day-${owner}`;

  async function keep(url, owner) {
    const answer = await fetch(url, { headers: { "X-Kept": "1" } });
    if (!answer.ok || answer.redirected) throw new Error(`${answer.status}`);
    const cache = await caches.open(cacheOf(owner)), copy = answer.clone();
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    await cache.addAll(filesOf(page));
    await cache.put(url, copy);
  }

  // What a page needs to be drawn and to work.
  function filesOf(page) {
    const parts = [...page.querySelectorAll("script[src], link[rel=stylesheet], link[rel=preload], link[rel=icon]")];
    return [...new Set(parts.map((one) => one.getAttribute("src") ?? one.getAttribute("href")))];
  }

  // Whether a page is here with all that it needs; the answer that holds it, else nothing.
  async function whole(url, owner) {
    if (!("caches" in window)) return null;
    const cache = await caches.open(cacheOf(owner)), held = await cache.match(url);
    if (!held) return null;
    const page = new DOMParser().parseFromString(await held.clone().text(), "text/html");
    const there = await Promise.all(filesOf(page).map((file) => cache.match(file)));
    return there.every(Boolean) ? held : null;
  }

  // The pages that go along with a box: its own, and those that are wanted beside it.
  const pagesOf = (box) => [box.dataset.kept, ...(box.dataset.also ?? "").split(/\s+/).filter(Boolean)];

  // It opens without a signal once all of it is here.
  async function told(box) {
    const words = box.querySelector("[data-kept-said]"), button = box.querySelector("button");
    const here = await Promise.all(pagesOf(box).map((url) => whole(url, box.dataset.owner))), held = here.every(Boolean) && here[0];
    const since = held && new Date(held.headers.get("date")).toLocaleString([], { weekday: "short", hour: "numeric", minute: "2-digit" });
    words.textContent = held ? `On this phone since ${since}: it opens without a signal.` : "Not on this phone yet.";
    button.textContent = held ? "Save again" : "Save on this phone";
    button.hidden = !("serviceWorker" in navigator);
  }

  // Taps of others that lie on this phone unsent: a number, and nothing else of them.
  async function others() {
    const words = document.querySelector("[data-taps-wait]");
    if (!words || !window.keptTaps) return;
    words.textContent = await keptTaps.waiting(Number(words.dataset.tapsWait));
    words.hidden = !words.textContent;
  }

  async function start() {
    others();
    if (!("serviceWorker" in navigator)) return;
    await navigator.serviceWorker.register("/sw.js");
    if (document.querySelector("[data-keep-now]")) await navigator.storage?.persist?.();
    for (const box of document.querySelectorAll("[data-kept]")) {
      box.querySelector("button").addEventListener("click", async () => {
        const words = box.querySelector("[data-kept-said]");
        words.textContent = "Saving …";
        try { for (const url of pagesOf(box)) await keep(url, box.dataset.owner); await told(box); } catch { words.textContent = "We could not save it: there is no signal, or you are signed out."; }
      });
      // What is kept already is kept anew whenever it is opened with a signal.
      for (const url of box.dataset.keepNow === undefined ? [] : pagesOf(box)) {
        if (!(await whole(url, box.dataset.owner))) await keep(url, box.dataset.owner).catch(() => {});
      }
      await told(box);
    }
  }
  start();
})();
