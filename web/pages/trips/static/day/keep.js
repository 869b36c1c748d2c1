// Keeps a trip's page on this phone: the page with all that it shows, in a cache that the service worker gives out.
(() => {
  const cacheOf = (owner) => `day-${owner}`;

  async function keep(url, owner) {
    const answer = await fetch(url, { headers: { "X-Kept": "1" } });
    if (!answer.ok || answer.redirected) throw new Error(`${answer.status}`);
    const cache = await caches.open(cacheOf(owner)), copy = answer.clone();
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const files = [...page.querySelectorAll("script[src], link[rel=stylesheet], link[rel=preload], link[rel=icon]")].map((one) => one.getAttribute("src") ?? one.getAttribute("href"));
    await cache.addAll([...new Set(files)]);
    await cache.put(url, copy);
  }

  async function told(box) {
    const words = box.querySelector("[data-kept-said]"), button = box.querySelector("button");
    const held = "caches" in window && await (await caches.open(cacheOf(box.dataset.owner))).match(box.dataset.kept);
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
    for (const box of document.querySelectorAll("[data-kept]")) {
      box.querySelector("button").addEventListener("click", async () => {
        const words = box.querySelector("[data-kept-said]");
        words.textContent = "Saving …";
        try { await keep(box.dataset.kept, box.dataset.owner); await told(box); } catch { words.textContent = "We could not save it: there is no signal, or you are signed out."; }
      });
      // What is kept already is kept anew whenever it is opened with a signal.
      const cache = await caches.open(cacheOf(box.dataset.owner)), wanted = box.dataset.keepNow === undefined ? [] : [box.dataset.kept, ...(box.dataset.also ?? "").split(" ").filter(Boolean)];
      for (const url of wanted) {
        if (!(await cache.match(url))) await keep(url, box.dataset.owner).catch(() => {});
        if (url === box.dataset.kept) await told(box);
      }
      if (!wanted.length) await told(box);
    }
  }
  start();
})();
