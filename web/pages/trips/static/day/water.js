// The screen on the water: what came is tapped, and what to throw now is asked of the schools that came with the page.
(async () => {
  const trip = JSON.parse(document.getElementById("trip-data").textContent);
  const $ = (id) => document.getElementById(id);
  const page = document.body.dataset, clock = clockOf(trip), telling = tellingOf(trip, clock), panels = panelsOf(trip, telling);
  const facts = factsOf({ hours: trip.hours, tide: trip.tide }), aside = asideOf(trip, { facts, clock, telling, panels });
  const ask = throwNow(trip.book), kinds = Object.keys(trip.categories), TWICE_MS = 1000, UNDO_MIN = 2, TAP_MS = 30;
  const metric = trip.units === "metric";
  let angler = 0, rod = kinds[0], taps = [], device = "", signal = "…", buzzed = "", asked = {}, wanted = null, skyBefore = null, reminder = null, changed = null, seen = 0, safe = true, pressed = { what: "", at: 0 };

  const hourAt = (minute) => facts.hourAt(minute);

  // What is known of a kind of lure at a minute: what was told and still holds, else the forecast's hour and the
  // evening's water.
  function knownOf(category, told, minute) {
    const known = facts.factsAt(told, minute), { light, wind, water_temp_f, season } = hourAt(minute);
    const found = { ...trip.told[category], light, wind, water_temp_f, season, tide: null, visibility_in: known.visibility_in?.value ?? trip.now.visibility_in };
    for (const name of panels.TOLD) if (known[name]) found[name] = known[name].value;
    if (known.food) found.forage = [known.food.value];
    if (known.depth_ft) found.depth_ft = Math.min(trip.works_ft[category] ?? Infinity, known.depth_ft.value);
    return found;
  }

  const sum = (counts, where, by) => { counts[where] = (counts[where] ?? 0) + by; };

  // What is left of the tray and of all that is along, by kind: what is gone is one less; what was taken out of the boat
  // and thrown is in the tray from then on. A partner has a tray of their own.
  function leftOf(turns) {
    const gone = {}, theirs = angler && Object.keys(trip.partner_tray).length, packed = theirs ? trip.partner_tray : trip.tray;
    for (const turn of turns) sum(gone, `${turn.category} ${turn.card}`, turn.gone);
    const thrown = (category, card) => turns.some((turn) => !turn.partner && turn.category === category && turn.card === card);
    const isLeft = (counts) => (category, card) => (counts[`${category} ${card}`] ?? 0) > (gone[`${category} ${card}`] ?? 0);
    const [inTray, along] = [isLeft(theirs ? trip.stock : trip.counts), isLeft(trip.stock)], tray = {}, aboard = {};
    for (const [category, cards] of Object.entries(trip.aboard)) {
      aboard[category] = cards.filter((card) => along(category, card));
      tray[category] = aboard[category].filter((card) => (packed[category] ?? []).includes(card) ? inTray(category, card) : thrown(category, card));
    }
    return { tray, aboard };
  }

  const isOver = (turn, at) => Boolean(turn) && at - turn.at >= trip.turn;

  const everyKind = () => [rod, ...kinds.filter((one) => one !== rod)];

  // What to throw now, or at another hour, or once the turn that goes on is `done`.
  function now(state, { told = state.told, at = clock.now(), done = false, listed = everyKind() } = {}) {
    const length = trip.turn, from = state.turn?.at ?? at, when = done ? from + Math.max(Math.ceil((at - from) / length), 1) * length : at;
    const partner = state.turns.findLast((turn) => turn.partner && turn.end === undefined)?.card ?? null;
    return ask({
      listed, told: Object.fromEntries(listed.map((category) => [category, knownOf(category, told, at)])), ...leftOf(state.turns), at: when, partner,
      turns: state.turns.flatMap((turn) => piecesOf(turn, when, { facts, told, length, done: done && turn === state.turn })),
    });
  }

  // Somebody else has signed in here, or nobody is: what is theirs is shown to them alone, and so is this.
  async function sealed() {
    if (await who.is(trip.owner)) return false;
    const words = document.createElement("p"), link = document.createElement("a");
    words.textContent = "This page belongs to another account. What was tapped here is kept for them. ";
    link.href = page.signIn; link.textContent = "Sign in";
    words.append(link);
    document.body.replaceChildren(words);
    return true;
  }

  const add = (kind, data) => keptTaps.add({ trip: trip.trip, owner: trip.owner, called: trip.called, angler, kind, at: clock.now(), data });

  async function tap(kind, data = {}) {
    if (await sealed()) return;
    const { turn } = turnsOf(taps, angler, device);
    // What was tied on by another phone goes on on this one, from its first tap.
    if (turn && turn.device !== device && ["bite", "gone", "nothing", "stop"].includes(kind)) {
      await add("correct", { of: turn.id, minutes: Math.min(Math.max(clock.now() - turn.at, 0), 600) });
      if (kind === "bite" || kind === "gone") await add("begin", begun(turn.category, turn.card, turn.trailer));
    }
    await add(kind, data);
    navigator.vibrate?.(TAP_MS);
    await draw();
    send();
  }

  const begun = (category, card, trailer) => ({ category, card, ...(trailer ? { trailer } : {}) });

  function begin(category, card, trailer) {
    rod = category;
    return tap("begin", begun(category, card, trailer));
  }

  async function draw() {
    if (await sealed()) return;
    taps = await keptTaps.of(trip.trip);
    if (!kinds.length) return nothing();
    const state = turnsOf(taps, angler, device), { turn } = state, at = clock.now();
    if (turn) rod = turn.category;
    const answer = now(state), told = state.test ? { ...telling.testing(state, at) } : { ...telling.tell(answer, turn, isOver(turn, at), at), category: answer.category, card: answer.card, trailer: answer.trailer };
    wanted = told.card && !(turn && turn.category === told.category && turn.card === told.card) ? told : afterwards(state);
    if (answer.better && !state.test && answer.do !== "stay" && (!turn || told.throwNow)) wanted = Object.assign(told, { card: answer.better.card, trailer: null, boat: true, throwNow: true, say: `Better now, but not packed: ${telling.small(answer.better.card)}.`, more: "" });
    remind(state);
    $("say").textContent = changed ?? told.say;
    if (told.more && !changed) { const more = document.createElement("span"); more.className = "good"; more.textContent = ` ${telling.capital(told.more)}`; $("say").append(more); }
    $("rests").textContent = told.rests;
    panels.stick($("now-stick"), turn?.card);
    $("now-what").textContent = turn ? `${trip.categories[turn.category]} · ${telling.name(turn.card)}${turn.trailer ? `, ${telling.small(turn.trailer)} on it` : ""}` : "Nothing is tied on";
    tick(state, told);
    main(told.throwNow && wanted === told);
    panels.rods(angler, rod);
    for (const button of document.querySelectorAll("[data-bite], [data-tap=nothing], [data-gone]")) button.disabled = !turn;
    document.querySelector("[data-undo]").disabled = !state.last || at - state.last.at > UNDO_MIN;
    const known = knownOf(rod, state.told, at), { spot } = facts.factsAt(state.told, at);
    document.body.toggleAttribute("data-night", known.light === "night");
    panels.pressed({ ...known, food: known.forage[0], ...asked });
    fish(turn);
    panels.lures(answer, kinds, leftOf(state.turns).aboard);
    const jig = turn && trip.book.kinds[turn.category].jig ? trip.aboard["jig-trailer"] ?? [] : [];
    $("other-trailer").hidden = jig.length < 2;
    if (jig.length > 1) panels.trailers(turn.category, turn.card, jig, turn.trailer);
    $("test-end").hidden = !state.test;
    $("spot").textContent = spot ? ` · ${spot.value}` : "";
    $("facts").textContent = aside.said(state, at);
    aside.askOld(state, at);
    $("better").textContent = telling.aboard(answer);
    $("soon").textContent = soon(state);
    listTurns(state);
    shown();
    others(state);
  }

  function nothing() {
    $("say").textContent = "Nothing you packed is for this water.";
    for (const part of document.querySelectorAll("main > :not(h1, .caution)")) part.hidden = true;
    shown();
  }

  // What comes after the lure that is tied on, if its turn ends without a bite.
  function afterwards(state) {
    if (!state.turn || state.test) return null;
    const then = now(state, { done: true, listed: [rod] });
    return then.card && then.card !== state.turn.card ? then : null;
  }

  // One main button in each state, the first of the page: to throw what is proposed, or that a fish took it whole.
  function main(throwing) {
    $("next").hidden = !wanted;
    if (wanted) {
      panels.stick($("next-stick"), wanted.card);
      $("next-words").textContent = wanted.boat ? `Get it: ${telling.fetched(wanted.category, wanted.card)}` : throwing ? "Throw it" : "Next: throw it now";
      $("next-pair").textContent = `: ${telling.pair(wanted)}`;
    }
    $("next-throw").classList.toggle("strong", Boolean(throwing));
    const [first, second] = throwing ? [$("next"), $("taps")] : [$("taps"), $("next")];
    if (first.compareDocumentPosition(second) & Node.DOCUMENT_POSITION_PRECEDING) second.before(first);
  }

  // The length of a fish that was just told: a press away.
  function fish(turn) {
    const open = turn?.bites.findLast((bite) => bite.how === "whole" && bite.size_in === undefined), last = taps.findLast((one) => one.data?.size_in)?.data.size_in;
    $("fish").hidden = !open;
    if (open) panels.sizes(last);
  }

  async function noteSize(inches) {
    const { turn, turns } = turnsOf(taps, angler, device), bite = (turn ?? turns.at(-1))?.bites.findLast((one) => one.how === "whole" && one.size_in === undefined);
    if (!bite || !(inches > 0 && inches < 120)) return;
    await tap("drop", { of: bite.id });
    await tap("bite", { how: "whole", size_in: inches });
  }

  // The forecast's own change, at its hour: what to throw is another from here on.
  function remind(state) {
    const hour = hourAt(clock.now()), sky = `${hour.light} ${hour.wind}`;
    if (skyBefore !== null && skyBefore !== sky) {
      const { card } = now(state, { listed: [rod] });
      reminder = { until: Date.now() + 180000, words: `${clock.clock(hour.hour * 60)}: ${trip.words.light[hour.light].toLowerCase()}, ${trip.words.wind[hour.wind].toLowerCase()}, by the forecast.${card ? ` ${telling.capital(telling.small(card))}.` : ""}` };
      navigator.vibrate?.([120, 80, 120]);
    }
    skyBefore = sky;
  }

  function tick({ turn }, told) {
    const minutes = turn ? clock.now() - turn.at : 0, bar = $("bar");
    $("now-time").textContent = turn ? `${Math.floor(minutes)} min · turn of ${trip.turn}` : "";
    bar.value = turn ? Math.min(100 * minutes / trip.turn, 100) : 0;
    bar.classList.toggle("over", Boolean(turn && minutes >= trip.turn));
    if (turn && (told.over ?? minutes >= trip.turn) && buzzed !== turn.id) { buzzed = turn.id; navigator.vibrate?.(120); }
  }

  // The next change that the forecast knows of.
  function soon(state) {
    if (reminder && Date.now() < reminder.until) return reminder.words;
    const at = clock.now() / 60, hour = hourAt(clock.now()), next = trip.hours.find((one) => one.hour > at && (one.light !== hour.light || one.wind !== hour.wind));
    if (!next) return "";
    const { card } = now({ ...state, turns: [], turn: null }, { at: next.hour * 60, listed: [rod] });
    const wait = Math.round((next.hour - at) * 60), when = wait <= 60 && wait >= 0 ? `In ${wait} min` : `At ${clock.clock(next.hour * 60)}`;
    return `${when}: ${trip.words.light[next.light].toLowerCase()}${card ? `; ${telling.small(card)}` : ""}.`;
  }

  function listTurns({ turns }) {
    $("turns").replaceChildren(...turns.slice(-6).reverse().map((turn) => {
      const row = document.createElement("li"), what = document.createElement("span"), came = document.createElement("span");
      what.textContent = `${clock.clock(turn.at)} ${telling.name(turn.card)}${turn.trailer ? `, ${telling.small(turn.trailer)}` : ""}`;
      const counts = ["whole", "lost", "outside", "missed", "follow"].map((how) => [turn.bites.filter((bite) => bite.how === how).length, how]).filter(([count]) => count);
      came.textContent = [turn.end ? `${Math.round(turn.end - turn.at)} min` : "now", counts.map(([count, how]) => `${count} ${telling.how(how)}`).join(", ") || (turn.end ? "no bites" : "")].filter(Boolean).join(" · ");
      row.append(what, came);
      return row;
    }));
  }

  // What others throw, and whose taps wait here.
  async function others({ turns, turn }) {
    const last = Object.values(Object.fromEntries(turns.filter((one) => one.device !== device && one.device !== "here" && one !== turn).map((one) => [`${one.device} ${one.partner}`, one])));
    const phones = last.map((one) => `Another phone: ${telling.small(one.card)}, since ${clock.clock(one.at)}${one.bites.length ? `, ${one.bites.length} came` : ""}.`);
    const unsafe = !safe && taps.some((tap) => tap.state === "kept") ? "Taps that are not sent yet are lost if this browser’s data is cleared." : "";
    $("others").textContent = [...phones, await keptTaps.waiting(trip.owner), unsafe].filter(Boolean).join(" ");
  }

  function shown() {
    const left = taps.filter((tap) => tap.state === "kept").length, refused = taps.filter((tap) => tap.state === "refused").length, box = $("signal");
    const out = left && signal === "signed-out";
    const words = out ? `sign in to send ${left}` : left ? (signal === "sent" || signal === "…" ? `${left} to send` : `no signal · ${left} kept here`) : refused ? `${refused} not taken` : taps.length ? "all sent" : "ready";
    box.className = left || refused ? "" : "sent";
    if (box.textContent === words) return; // a link is not taken away from under a finger
    box.replaceChildren();
    if (out) { const link = document.createElement("a"); link.href = page.signIn; link.textContent = words; box.append(link); }
    else box.textContent = words;
  }

  async function send() {
    // Taps that went by a wrong clock wait for the answer.
    if (!$("clock-ask").hidden || await sealed()) return;
    await keptTaps.send(trip.trip, page.taps, trip.owner, (told) => { signal = told; }).catch(() => { signal = "trouble"; });
    taps = await keptTaps.of(trip.trip);
    shown();
  }

  // What changed in the order by what was told of the water or the sky, and why.
  async function tellWater(data) {
    const first = (state) => Object.fromEntries(kinds.map((category) => { const one = now({ ...state, turns: [], turn: null }).order.find((each) => each.category === category); return [category, one]; }));
    const before = first(turnsOf(taps, angler, device));
    asked = {};
    await tap("water", data);
    const after = first(turnsOf(taps, angler, device)), lines = [];
    if (data.visibility_in && panels.bandOf(data.visibility_in) !== panels.bandOf(trip.now.usual_in)) lines.push(`${data.visibility_in < trip.now.usual_in ? "Murkier" : "Clearer"} than usual: ${panels.length(data.visibility_in)}, not ${panels.length(trip.now.usual_in)}.`);
    for (const category of kinds) if (after[category] && after[category].card !== before[category]?.card) lines.push(`${trip.categories[category]}: ${telling.small(after[category].card)}${before[category] ? ` instead of ${telling.small(before[category].card)}` : ""}. ${telling.reason(after[category])}`);
    changed = lines[0] ?? "Saved. What to throw stays the same.";
    await draw();
    if (lines.length > 1) $("rests").textContent = lines.slice(1).join(" ");
    changed = null;
    if (!data.visibility_in) return;
    await send();
    await aside.repack(page.repack, data.visibility_in);
  }

  async function keepWater() {
    const told = { ...asked }, depth = Number($("depth").value.replace(",", ".")), typed = panels.typed();
    if (Number.isNaN(typed)) { $("meter-said").textContent = `“${$("seen").value}” is no visibility: write a number such as ${metric ? "40" : "16"}, or with its unit.`; $("seen").focus(); return; }
    panels.open("");
    if (typed !== null) told.visibility_in = Math.round(typed * 10) / 10;
    else if (panels.wasTaped() || (!Object.keys(asked).length && !(depth > 0) && !$("spot-name").value)) told.visibility_in = Math.round(panels.taped() * 10) / 10;
    if (depth > 0) told.depth_ft = Math.round(depth * (metric ? 3.28084 : 1) * 10) / 10;
    if ($("spot-name").value) told.spot = $("spot-name").value;
    await tellWater(told);
  }

  document.addEventListener("click", async (event) => {
    const button = event.target.closest("button");
    if (!button || button.disabled) return;
    const data = button.dataset, what = data.bite ?? data.tap;
    // A second press at once is a finger that slipped.
    if (what && what === pressed.what && Date.now() - pressed.at < TWICE_MS) return;
    pressed = { what: what ?? "", at: Date.now() };
    if (data.bite) await tap("bite", { how: data.bite });
    else if (data.tap) await tap(data.tap);
    else if (data.gone) { panels.open(""); await tap("gone", { what: data.gone }); }
    else if (data.open) panels.open(data.open, knownOf(rod, turnsOf(taps, angler, device).told, clock.now()).visibility_in);
    else if (data.undo !== undefined) { const { last } = turnsOf(taps, angler, device); if (last) await tap("drop", { of: last.id }); }
    else if (data.angler) { angler = Number(data.angler); panels.open(""); await draw(); }
    else if (data.rod) { rod = data.rod; panels.open(""); if (turnsOf(taps, angler, device).turn) await tap("nothing"); else await draw(); }
    else if (data.size) await noteSize(Number(data.size));
    else if (button.id === "test-begin") { panels.open(""); await tap("test", { category: $("test-first").selectedOptions[0].dataset.category, first: $("test-first").value, second: $("test-second").value }); }
    else if (button.id === "test-end") { panels.open(""); await tap("test"); }
    else if (data.throw) { panels.open(""); await begin(data.category, data.throw, data.trailer ?? trailerFor(data.category, data.throw)); }
    else if (button.id === "next-throw" && wanted) await begin(wanted.category, wanted.card, wanted.trailer ?? trailerFor(wanted.category, wanted.card));
    else if (data.of === "light" || data.of === "wind") { panels.open(""); await tellWater({ [data.of]: data.value }); }
    else if (data.of) { asked[data.of] = data.value; panels.pressed(asked); }
    else if (button.id === "water-keep") await keepWater();
    else if (button.id === "read-meter") await readMeter();
    else if (button.id === "still-yes") await tap("water", { light: data.still });
    else if (button.id === "still-no") { aside.answered($("still-yes").dataset.at); await draw(); panels.open("sky"); }
    else if (button.id === "clock-move") { $("clock-ask").hidden = true; await aside.moveLate(); await draw(); send(); }
    else if (button.id === "clock-leave") { $("clock-ask").hidden = true; send(); }
    else if (button.id === "repack-do") await repack();
    else if (button.id === "repack-leave") $("repack").hidden = true;
  });

  // The trailer that goes on a jig chosen by hand.
  function trailerFor(category, card) {
    return now(turnsOf(taps, angler, device)).order.find((one) => one.category === category && one.card === card)?.trailer ?? null;
  }

  $("size-form").addEventListener("submit", async (event) => {
    event.preventDefault();
    await noteSize(Math.round(Number($("size").value.replace(",", ".")) / (metric ? 2.54 : 1) * 10) / 10);
    $("size").value = "";
  });

  // Packed anew on the server: the page is drawn again with that tray.
  async function repack() {
    const answer = await fetch(page.repack, { method: "POST", headers: { "X-CSRFToken": document.querySelector("meta[name=csrf]").content }, signal: AbortSignal.timeout(20000) }).catch(() => null);
    if (answer?.ok) location.reload();
    else $("repack-words").textContent = "No signal: pack again when there is one.";
  }

  // What other phones tapped meanwhile.
  async function hear() {
    if (!navigator.onLine || document.hidden || await sealed()) return;
    const answer = await fetch(`${page.taps}?after=${seen}`, { signal: AbortSignal.timeout(15000) }).catch(() => null);
    if (!answer?.ok || answer.redirected) return;
    const told = await answer.json().catch(() => null); // cut off half-way
    if (!told) return;
    const { taps: came, last } = told;
    await keptTaps.take(came, { trip: trip.trip, owner: trip.owner, called: trip.called });
    if (last !== seen) { seen = last; await draw(); }
  }

  async function readMeter() {
    const said = $("meter-said");
    said.textContent = "Reading …";
    try {
      const answer = await fetch(page.meter, { method: "POST", headers: { "X-CSRFToken": document.querySelector("meta[name=csrf]").content }, signal: AbortSignal.timeout(15000) });
      const told = await answer.json();
      if (told.visibility_in) panels.tape(told.visibility_in, true);
      said.textContent = told.wrong ?? `The meter says ${panels.length(told.visibility_in)}.`;
    } catch { said.textContent = "No signal: set the slider."; }
  }

  if (kinds.length) panels.make();
  await who.ready;
  await keptTaps.ready;
  device = await keptTaps.device();
  if (await who.is(trip.owner)) await keptTaps.take(trip.taps, { trip: trip.trip, owner: trip.owner, called: trip.called });
  safe = (await navigator.storage?.persist?.()) ?? false;
  await draw();
  send().then(hear);
  setInterval(async () => {
    await aside.askClock();
    await draw();
    if (taps.some((one) => one.state === "kept")) send();
  }, keptTaps.EVERY_MS);
  setInterval(hear, 2 * keptTaps.EVERY_MS);
  window.addEventListener("online", send);
  document.addEventListener("visibilitychange", () => { if (!document.hidden) { draw(); send().then(hear); } });
})();
