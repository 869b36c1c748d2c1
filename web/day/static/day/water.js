// The screen on the water. What to throw is looked up in the table that came with the page; no rule is made here.
(async () => {
  const trip = JSON.parse(document.getElementById("trip-data").textContent);
  const $ = (id) => document.getElementById(id);
  const page = document.body.dataset;
  const midnight = new Date(`${trip.date}T00:00:00`).getTime();
  const minute = () => (Date.now() - midnight) / 60000;
  const metric = trip.units === "metric";
  const length = (inches) => (metric ? `${Math.round(inches * 2.54)} cm` : `${Math.round(inches)} in`);
  const name = (card) => trip.cards[card]?.name ?? card;
  const COUNTED = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];
  const many = (count) => COUNTED[count] ?? String(count);
  let angler = 0, taps = [], signal = "…", buzzed = "", asked = {}, wanted = null, skyBefore = null, reminder = null;

  const bandOf = (inches) => trip.bands.find(([, low, below]) => inches >= low && (below === null || inches < below))[0];
  const hourNow = () => trip.hours.findLast((one) => one.hour <= minute() / 60) ?? trip.hours[0];

  // What is known now: what was told on the water, else the forecast's hour and the evening's water.
  function conditions(told) {
    const hour = hourNow();
    const inches = told.visibility_in ?? trip.now.visibility_in;
    return { visibility_in: inches, band: bandOf(inches), light: told.light ?? hour.light, wind: told.wind ?? hour.wind, food: told.food ?? trip.now.food, stain: told.stain ?? trip.now.stain };
  }

  const entryOf = (now, category) => trip.entries[trip.cells[`${now.band}|${now.light}|${now.wind}|${now.food}`]?.[Object.keys(trip.categories).indexOf(category)]] ?? null;

  // Somebody else has signed in here, or nobody is: what is theirs is shown to them alone, and so is this.
  async function sealed() {
    if (await who.is(trip.owner)) return false;
    const words = document.createElement("p"), link = document.createElement("a");
    words.textContent = "This page is not yours to see. What was tapped here is kept for who tapped it. ";
    link.href = page.signIn; link.textContent = "Sign in";
    words.append(link);
    document.body.replaceChildren(words);
    return true;
  }

  async function tap(kind, data = {}) {
    if (await sealed()) return;
    await keptTaps.add({ trip: trip.trip, owner: trip.owner, called: trip.called, angler, kind, at: minute(), data });
    await draw();
    send();
  }

  function begin(category, card) {
    const { visibility_in, light, wind, food, stain } = conditions(turnsOf(taps, angler).water);
    return tap("begin", { category, card, visibility_in, light, wind, food, stain });
  }

  // A fair test: first, second, second, first, until the evidence that came with the page is reached.
  function testing({ test, turn }) {
    const [first, second] = [test.first, test.second], counts = [test.bites[first], test.bites[second]], total = counts[0] + counts[1];
    const end = trip.test.ends[total] ?? null, most = Math.max(...counts), better = counts[0] >= counts[1] ? first : second;
    const next = [first, second, second, first][test.turns % 4], score = `${counts[0]} to ${counts[1]}`;
    if (end !== null && most >= end) return { say: `Settled: ${name(better).toLowerCase()}, ${score}.`, why: "By luck alone that would come in at most one test of twenty. End the test under More.", category: test.category, card: better };
    const over = turn && minute() - turn.at >= trip.turn;
    if (turn && turn.card in test.bites && !over) return { say: `Fair test: ${name(turn.card).toLowerCase()} has its turn.`, more: `${score} so far.`, why: `Then ${name(next).toLowerCase()}, on the same spot.`, category: test.category, card: next, quiet: true };
    return { say: `Fair test: ${name(next).toLowerCase()} now.`, more: total ? `${score} so far.` : "", why: `It takes about ${trip.test.twice} bites where one gets twice the other’s, ${trip.test.half_more} where it gets half as many more.`, category: test.category, card: next, over };
  }

  // What the table says of the turn so far: what to say, why, and what to throw next.
  function counsel(state, now) {
    const { turn, turns, thrown, fish } = state;
    if (state.test) return testing(state);
    if (!turn) {
      const before = turns.at(-1), category = before?.category ?? Object.keys(trip.categories).find((one) => entryOf(now, one)) ?? null;
      const entry = category && entryOf(now, category);
      if (!entry) return { say: "Nothing aboard is made for this water.", why: "Choose by hand: Another lure." };
      const card = entry.order.find((one) => !thrown.has(one));
      if (!card) return { say: "All that is aboard was tried here.", why: "Move to another place, and begin again with the first.", category, card: entry.order[0] };
      const start = before ? `${name(card)} now.` : `Begin with ${name(card).toLowerCase()}.`;
      return { say: start, why: entry.school === "your log" ? entry.why : `${entry.why} (${entry.school})`, category, card };
    }
    const entry = entryOf(now, turn.category), minutes = Math.round(minute() - turn.at), whole = turn.bites.filter((bite) => bite.how === "whole").length;
    const near = trip.near[turn.category]?.[turn.card] ?? null, last = turn.bites.at(-1);
    const fresh = entry?.order.find((one) => !thrown.has(one)) ?? null;
    if (last?.how === "whole") return { say: `Stay with ${name(turn.card).toLowerCase()}.`, more: minutes < 1 ? `${many(whole)} whole already.` : `${many(whole)} whole in ${many(minutes)} minute${minutes === 1 ? "" : "s"}.`, why: near ? `When it stops: ${name(near).toLowerCase()}, the nearest step.` : "When it stops: another place.", category: turn.category, card: near, quiet: true };
    if (last) return near
      ? { say: `Nearly: ${name(near).toLowerCase()}.`, why: `${{ missed: "Missed", outside: "Hooked outside", lost: "Lost" }[last.how]} is near. One step in finish, opacity or belly, the role as it is.`, category: turn.category, card: near }
      : { say: `Nearly. Nothing nearer is aboard.`, why: "Stay with it, slower or faster; or move." };
    const over = minute() - turn.at >= trip.turn;
    if (over && fresh) return { say: `Change: ${name(fresh).toLowerCase()}.`, why: `${minutes} minutes without a bite. Another role next, the exact shade last.`, category: turn.category, card: fresh, over };
    if (over) return { say: "Move: all that is aboard was tried here.", why: "Another place, then the first colour again.", category: turn.category, card: entry?.order[0] ?? null, over };
    const proof = fish && turns.length === 1 ? "There are fish here: now turns on this spot." : `${name(turn.card)} has its turn.`;
    return { say: proof, why: fresh ? `After ${trip.turn} minutes without a bite: ${name(fresh).toLowerCase()}.` : "", category: turn.category, card: fresh, quiet: true };
  }

  function stick(into, card) {
    const drawn = card && document.querySelector(`template[data-stick="${CSS.escape(card)}"]`);
    into.replaceChildren(...(drawn ? [drawn.content.cloneNode(true)] : []));
  }

  async function draw() {
    if (await sealed()) return;
    taps = await keptTaps.of(trip.trip);
    const state = turnsOf(taps, angler), now = conditions(state.water);
    remind(state, now);
    const told = counsel(state, now), { turn } = state;
    wanted = told.card ? told : null;
    const say = $("say"), words = asked.changed ?? told.say;
    say.textContent = words;
    if (told.more && !asked.changed) { const more = document.createElement("span"); more.className = "good"; more.textContent = ` ${told.more[0].toUpperCase()}${told.more.slice(1)}`; say.append(more); }
    stick($("now-stick"), turn?.card);
    $("now-what").textContent = turn ? `${trip.categories[turn.category]} · ${name(turn.card)}` : "Nothing is tied on";
    tick(state, told);
    $("next-why").textContent = [told.why, loud(state, now)].filter(Boolean).join(" ");
    $("next-throw").hidden = !wanted;
    if (wanted) { stick($("next-stick"), wanted.card); $("next-throw").setAttribute("aria-label", `Throw ${name(wanted.card)}`); }
    for (const button of document.querySelectorAll("[data-bite], [data-tap=nothing], [data-gone]")) button.disabled = !turn;
    document.querySelector("[data-undo]").disabled = !state.last;
    for (const button of document.querySelectorAll("[data-angler]")) button.setAttribute("aria-pressed", String(Number(button.dataset.angler) === angler));
    for (const kind of ["light", "wind", "stain", "food"]) for (const button of document.querySelectorAll(`[data-choose=${kind}] button`)) button.setAttribute("aria-pressed", String((kind in asked ? asked[kind] : now[kind]) === button.dataset.value));
    $("test-end").hidden = !state.test;
    $("spot").textContent = state.water.spot ? ` · ${state.water.spot}` : "";
    $("soon").textContent = soon(state, now);
    listTurns(state);
    shown(state);
    others();
  }

  // The forecast's own change, at its hour: what to throw is another from here on.
  function remind({ water, turn }, now) {
    const hour = hourNow(), sky = `${hour.light} ${hour.wind}`;
    if (skyBefore !== null && skyBefore !== sky && !water.light) {
      const category = turn?.category ?? Object.keys(trip.categories)[0], entry = entryOf(now, category);
      reminder = { until: Date.now() + 180000, words: `${hour.hour}:00: ${trip.words.light[hour.light].toLowerCase()}, ${trip.words.wind[hour.wind].toLowerCase()}, by the forecast.${entry ? ` ${trip.categories[category]}: ${name(entry.order[0]).toLowerCase()}.` : ""}` };
      navigator.vibrate?.([120, 80, 120]);
    }
    skyBefore = sky;
  }

  function tick(state, told) {
    const { turn } = state, minutes = turn ? minute() - turn.at : 0, bar = $("bar");
    $("now-time").textContent = turn ? `${Math.floor(minutes)} min · turn of ${trip.turn}` : "";
    bar.value = turn ? Math.min(100 * minutes / trip.turn, 100) : 0;
    bar.classList.toggle("over", Boolean(turn && minutes >= trip.turn));
    if (told.over && buzzed !== turn.id) { buzzed = turn.id; navigator.vibrate?.(120); }
  }

  function loud({ turn }, now) {
    const entry = turn && entryOf(now, turn.category);
    return entry?.loud && !turn.bites.length ? `A loud turn may pay: ${name(entry.loud).toLowerCase()}, as fast as it can be wound, touching weed, rock or bottom.` : "";
  }

  // The next change that the forecast knows of; and one that should be there by now.
  function soon({ turn, water }, now) {
    if (reminder && Date.now() < reminder.until) return reminder.words;
    const at = minute() / 60, hour = hourNow(), next = trip.hours.find((one) => one.hour > at && (one.light !== hour.light || one.wind !== hour.wind));
    if (water.light && water.light !== hour.light && at >= hour.hour) return `The forecast has ${trip.words.light[hour.light].toLowerCase()} since ${hour.hour}:00. If so: Sky changed.`;
    if (!next) return "";
    const category = turn?.category ?? Object.keys(trip.categories)[0], entry = entryOf({ ...now, light: next.light, wind: next.wind }, category);
    const wait = Math.round((next.hour - at) * 60), when = wait <= 60 && wait >= 0 ? `In ${wait} min` : `At ${next.hour}:00`;
    return `${when}: ${trip.words.light[next.light].toLowerCase()}${entry ? `; ${trip.categories[category].toLowerCase()} ${name(entry.order[0]).toLowerCase()}` : ""}.`;
  }

  function listTurns({ turns }) {
    $("turns").replaceChildren(...turns.slice(-6).reverse().map((turn) => {
      const row = document.createElement("li"), what = document.createElement("span"), came = document.createElement("span");
      what.textContent = `${clock(turn.at)} ${name(turn.card)}`;
      const counts = ["whole", "lost", "outside", "missed"].map((how) => [turn.bites.filter((bite) => bite.how === how).length, how]).filter(([count]) => count);
      came.textContent = [turn.end ? `${Math.round(turn.end - turn.at)} min` : "now", counts.map(([count, how]) => `${count} ${how}`).join(", ") || (turn.end ? "nothing" : "")].filter(Boolean).join(" · ");
      row.append(what, came);
      return row;
    }));
  }

  const clock = (at) => `${Math.floor(at / 60)}:${String(Math.floor(at % 60)).padStart(2, "0")}`;

  async function others() {
    const mine = await keptTaps.device();
    const told = trip.others.filter((one) => one.device !== mine && one.device !== "here");
    const phones = told.map((one) => `Another phone: ${name(one.card).toLowerCase()}, since ${clock(one.at ?? 0)}.`);
    $("others").textContent = [...phones, await keptTaps.waiting(trip.owner)].join(" ");
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
    if (await sealed()) return;
    await keptTaps.send(trip.trip, page.taps, trip.owner, (told) => { signal = told; }).catch(() => { signal = "trouble"; });
    taps = await keptTaps.of(trip.trip);
    shown();
  }

  // What changed in the order by what was told of the water or the sky, and why.
  async function tellWater(data) {
    const before = conditions(turnsOf(taps, angler).water);
    await tap("water", data);
    const after = conditions(turnsOf(taps, angler).water), lines = [];
    if (data.visibility_in && bandOf(data.visibility_in) !== bandOf(trip.now.usual_in)) lines.push(`${data.visibility_in < trip.now.usual_in ? "Murkier" : "Clearer"} than usual: ${length(data.visibility_in)}, not ${length(trip.now.usual_in)}.`);
    for (const category of Object.keys(trip.categories)) {
      const was = entryOf(before, category)?.order[0], entry = entryOf(after, category);
      if (entry && entry.order[0] !== was) lines.push(`${trip.categories[category]}: ${name(entry.order[0])}${was ? ` instead of ${name(was).toLowerCase()}` : ""}. ${entry.why}`);
    }
    asked = { changed: lines[0] ?? "Noted. The order stays as it was." };
    await draw();
    $("next-why").textContent = lines.slice(1).join(" ") || $("next-why").textContent;
    asked = {};
  }

  const toInches = (share) => 4 * (200 / 4) ** (share / 100);
  const toShare = (inches) => 100 * Math.log(Math.min(Math.max(inches, 4), 200) / 4) / Math.log(200 / 4);
  function tape(inches) { $("tape").value = toShare(inches); $("tape-said").textContent = `${length(inches)}, ${trip.words.band[bandOf(inches)]}`; $("tape").setAttribute("aria-valuetext", $("tape-said").textContent); }

  function open(which) {
    for (const panel of document.querySelectorAll(".panel")) panel.hidden = panel.id !== `panel-${which}` || !panel.hidden;
    if (which === "water") tape(conditions(turnsOf(taps, angler).water).visibility_in);
    const panel = $(`panel-${which}`);
    if (panel && !panel.hidden) panel.scrollIntoView({ block: "nearest" });
  }

  function buttons() {
    for (const kind of ["light", "wind", "stain", "food"]) {
      document.querySelector(`[data-choose=${kind}]`).append(...Object.entries(trip.words[kind]).map(([value, words]) => {
        const button = document.createElement("button");
        button.type = "button"; button.dataset.value = value; button.dataset.of = kind; button.textContent = words;
        return button;
      }));
    }
    for (const [category, cards] of Object.entries(trip.aboard)) {
      const title = document.createElement("h2");
      title.textContent = trip.categories[category];
      $("aboard").append(title, ...cards.map((card) => {
        const button = document.createElement("button"), drawn = document.createElement("span"), words = document.createElement("b");
        button.type = "button"; button.dataset.throw = card; button.dataset.category = category;
        stick(drawn, card); words.textContent = name(card);
        button.append(drawn, words);
        return button;
      }));
    }
    for (const which of ["test-first", "test-second"]) {
      for (const [category, cards] of Object.entries(trip.aboard)) for (const card of cards) {
        const option = new Option(`${name(card)}, ${trip.categories[category].toLowerCase()}`, card);
        option.dataset.category = category;
        $(which).append(option);
      }
    }
    $("test-second").selectedIndex = 1;
    const wide = Math.log(200 / 4);
    $("tape-bands").append(...trip.bands.map(([band, low, below]) => {
      const part = document.createElement("span");
      part.className = `band-${band}`; part.textContent = trip.words.band[band];
      part.style.flex = `${Math.max(Math.log(Math.min(below ?? 200, 200) / Math.max(low, 4)) / wide, 0.08)} 1 0`;
      return part;
    }));
  }

  document.addEventListener("click", async (event) => {
    const button = event.target.closest("button");
    if (!button || button.disabled) return;
    const data = button.dataset;
    if (data.bite) await tap("bite", { how: data.bite });
    else if (data.tap) await tap(data.tap);
    else if (data.gone) { open(""); await tap("gone", { what: data.gone }); }
    else if (data.open) open(data.open);
    else if (data.undo !== undefined) { const { last } = turnsOf(taps, angler); if (last) await tap("drop", { of: last.id }); }
    else if (data.angler) { angler = Number(data.angler); await draw(); }
    else if (button.id === "test-begin") { open(""); await tap("test", { category: $("test-first").selectedOptions[0].dataset.category, first: $("test-first").value, second: $("test-second").value }); }
    else if (button.id === "test-end") { open(""); await tap("test"); }
    else if (data.throw) { open(""); await begin(data.category, data.throw); }
    else if (button.id === "next-throw" && wanted) await begin(wanted.category, wanted.card);
    else if (data.of === "light" || data.of === "wind") { open(""); await tellWater({ [data.of]: data.value }); }
    else if (data.of) { asked[data.of] = data.value; await draw(); }
    else if (button.id === "water-keep") { open(""); const { changed, ...told } = asked; await tellWater({ ...told, visibility_in: Math.round(toInches(Number($("tape").value)) * 10) / 10, ...($("spot-name").value ? { spot: $("spot-name").value } : {}) }); }
    else if (button.id === "read-meter") await readMeter();
  });
  $("tape").addEventListener("input", () => tape(toInches(Number($("tape").value))));
  $("size-form").addEventListener("submit", async (event) => {
    event.preventDefault();
    const { turn } = turnsOf(taps, angler), told = Number($("size").value.replace(",", "."));
    const bite = turn?.bites.findLast((one) => one.how === "whole" && one.size_in === undefined);
    if (!bite || !(told > 0 && told < (metric ? 300 : 120))) return;
    await tap("drop", { of: bite.id });
    await tap("bite", { how: "whole", size_in: Math.round(told / (metric ? 2.54 : 1) * 10) / 10 });
    $("size").value = "";
  });

  async function readMeter() {
    const said = $("meter-said");
    said.textContent = "Reading …";
    try {
      const answer = await fetch(page.meter, { method: "POST", headers: { "X-CSRFToken": document.querySelector("meta[name=csrf]").content }, signal: AbortSignal.timeout(15000) });
      const told = await answer.json();
      if (told.visibility_in) tape(told.visibility_in);
      said.textContent = told.wrong ?? `The meter says ${length(told.visibility_in)}.`;
    } catch { said.textContent = "No signal: set the slider."; }
  }

  buttons();
  await who.ready;
  await navigator.storage?.persist?.();
  await draw();
  send();
  setInterval(() => { draw(); if (taps.some((one) => one.state === "kept")) send(); }, keptTaps.EVERY_MS);
  window.addEventListener("online", send);
  document.addEventListener("visibilitychange", () => { if (!document.hidden) { draw(); send(); } });
})();
