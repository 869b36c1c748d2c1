// Taps are written to this phone first, each with an id of its own, and sent in order when there is a signal. The
// server takes each id once, so that sending again does no harm.
window.keptTaps = (() => {
  const BATCH = 100, EVERY_MS = 15000, CLOCK_OFF_MS = 120000;
  const opened = idb.openDB("wax-day", 1, {
    upgrade(db) {
      db.createObjectStore("taps", { keyPath: "id" }).createIndex("trip", "trip");
      db.createObjectStore("told");
    },
  });

  // This phone's own name, made once; and the place of each tap among its taps.
  async function device() {
    const db = await opened, known = await db.get("told", "device");
    if (known) return known;
    const made = crypto.randomUUID();
    await db.put("told", made, "device");
    return made;
  }

  // How far this phone's clock is behind the server's, in milliseconds, as far as it was told.
  let behind = 0;
  const ready = opened.then((db) => db.get("told", "behind")).then((told) => { behind = told ?? 0; });
  const now = () => Date.now() + behind;

  // The clock is right from here on; what was tapped by the wrong one is put right too. The server does the same.
  async function setRight(server) {
    const off = server - Date.now(), by = off - behind;
    if (Math.abs(by) < CLOCK_OFF_MS) return;
    behind = Math.abs(off) < CLOCK_OFF_MS ? 0 : off;
    const db = await opened, change = db.transaction(["taps", "told"], "readwrite");
    await change.objectStore("told").put(behind, "behind");
    for (const tap of await change.objectStore("taps").getAll()) {
      if (!tap.mine || tap.behind === behind) continue;
      const moved = behind - (tap.behind ?? 0);
      await change.objectStore("taps").put({ ...tap, behind, at: tap.at + moved / 60000, time: tap.time + moved });
    }
    await change.done;
  }

  // This phone's clock was put back by so many milliseconds (below nothing): the taps that went by the old one and are
  // still here. Where the server has told how far it is off, that is known, and nothing is to be asked.
  async function clockMoved(by) {
    const db = await opened;
    if (Math.abs(behind) >= CLOCK_OFF_MS) {
      behind = Math.abs(behind - by) < CLOCK_OFF_MS ? 0 : behind - by;
      await db.put("told", behind, "behind");
      return [];
    }
    return (await db.getAll("taps")).filter((tap) => tap.mine && tap.state === "kept");
  }
  async function move(ids, by) {
    const change = (await opened).transaction("taps", "readwrite");
    for (const id of ids) {
      const tap = await change.store.get(id);
      if (tap?.state === "kept") await change.store.put({ ...tap, at: tap.at + by / 60000, time: tap.time + by });
    }
    await change.done;
  }

  // What the server has of a trip and this phone has not: storage that was cleared, another phone, a new browser.
  async function take(taps, about) {
    const change = (await opened).transaction("taps", "readwrite");
    for (const tap of taps) if (!(await change.store.get(tap.id))) await change.store.put({ ...tap, ...about, state: "sent" });
    await change.done;
  }

  async function add(tap) {
    const db = await opened, made = { ...tap, id: crypto.randomUUID(), device: await device(), state: "kept", mine: true, behind, time: now() };
    const change = db.transaction(["taps", "told"], "readwrite");
    const place = ((await change.objectStore("told").get("place")) ?? 0) + 1;
    await change.objectStore("told").put(place, "place");
    await change.objectStore("taps").add({ ...made, place });
    await change.done;
    return { ...made, place };
  }

  async function of(trip) {
    const taps = await (await opened).getAllFromIndex("taps", "trip", trip);
    return taps.sort((one, other) => one.at - other.at || one.place - other.place);
  }

  async function mark(ids, state, words = {}) {
    const change = (await opened).transaction("taps", "readwrite");
    for (const id of ids) {
      const tap = await change.store.get(id);
      if (tap) await change.store.put({ ...tap, state, words: words[id] });
    }
    await change.done;
  }

  // What is kept goes out in its order; true where nothing is left. One tab at a time.
  function send(trip, url, owner, report) {
    return navigator.locks.request("wax-day-send", async () => {
      for (;;) {
        const left = (await of(trip)).filter((tap) => tap.state === "kept" && tap.owner === owner).sort((one, other) => one.place - other.place).slice(0, BATCH);
        if (!left.length) { report("sent"); return true; }
        const answer = await post(url, left);
        if (answer.trouble) { report(answer.trouble); return false; }
        if (answer.now) await setRight(answer.now);
        await mark(answer.taken, "sent");
        await mark(Object.keys(answer.refused), "refused", answer.refused);
        if (!answer.taken.length && !Object.keys(answer.refused).length) { report("trouble"); return false; }
      }
    });
  }

  async function post(url, taps, again = true) {
    const token = document.querySelector("meta[name=csrf]");
    const body = JSON.stringify({ now: now(), taps: taps.map(({ id, device, place, angler, kind, at, time, data }) => ({ id, device, place, angler, kind, at, time, data })) });
    try {
      const answer = await fetch(url, { method: "POST", body, headers: { "Content-Type": "application/json", "X-CSRFToken": token.content }, signal: AbortSignal.timeout(20000) });
      if (answer.status === 403 && again) return (await freshToken(token)) ? post(url, taps, false) : { trouble: "signed-out" };
      if (answer.redirected || answer.status === 403 || answer.status === 401) return { trouble: "signed-out" };
      if (!answer.ok) return { trouble: "trouble" };
      return await answer.json();
    } catch {
      return { trouble: "no-signal" };
    }
  }

  // The page may be older than the session: its token is asked for anew.
  async function freshToken(token) {
    const answer = await fetch(location.pathname, { headers: { "X-Fresh": "1" }, cache: "no-store" });
    if (!answer.ok || answer.redirected) return false;
    const page = new DOMParser().parseFromString(await answer.text(), "text/html");
    const fresh = page.querySelector("meta[name=csrf]")?.content;
    if (!fresh) return false;
    token.content = fresh;
    return true;
  }

  // How many taps of others lie here unsent, by the name of each: they stay theirs, and are not shown.
  async function waiting(owner) {
    const left = (await (await opened).getAll("taps")).filter((tap) => tap.state === "kept" && tap.owner !== owner);
    const names = new Map();
    for (const { called } of left) names.set(called, (names.get(called) ?? 0) + 1);
    return [...names].map(([called, count]) => `${count} ${count === 1 ? "tap" : "taps"} of ${called ?? "somebody else"} ${count === 1 ? "waits" : "wait"}.`).join(" ");
  }

  return { add, clockMoved, device, move, now, of, ready, send, take, waiting, EVERY_MS };
})();
