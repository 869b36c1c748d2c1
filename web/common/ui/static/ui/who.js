// Whose this phone is now. What it keeps of somebody is given out to that person alone: the service worker and the pages
// that were kept ask here. Whoever signs in is told by each page; whoever signs out takes their kept pages with them.
window.who = (() => {
  const NAME = "wax-who", AT = "/who", told = document.documentElement.dataset;

  async function now() {
    if (!("caches" in window)) return null;
    const kept = await (await caches.open(NAME)).match(AT);
    return kept ? kept.text() : null;
  }

  async function becomes(owner) {
    if ("caches" in window) await (await caches.open(NAME)).put(AT, new Response(owner));
  }

  async function start() {
    if (told.who) { if ((await now()) !== told.who) await becomes(told.who); }
    else if (told.out !== undefined && "caches" in window) {
      const before = await now();
      if (before) await caches.delete(`day-${before}`);
      await becomes("");
    }
  }

  // Whether what is kept of somebody may be shown; where nobody has signed in since this was written, it may.
  async function is(owner) {
    const here = await now();
    return here === null || here === String(owner);
  }

  return { is, ready: start() };
})();
