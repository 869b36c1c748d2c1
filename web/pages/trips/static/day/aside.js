// What stands beside the sentence: of when each fact is, what has grown old, what another phone says, a clock put right,
// and what a measurement would change in the tray.
window.asideOf = (trip, { facts, clock, telling, panels }) => {
  const $ = (id) => document.getElementById(id), APART_MIN = 60, CLOCK_OFF_MS = 120000;
  const asked = new Set();

  const flows = () => Object.entries(trip.tide).map(([hour, flow]) => [Number(hour), flow]).sort((one, other) => one[0] - other[0]);

  // How the tide runs, and when it turns: "tide coming in, high in about 2 h".
  function tide(known, at) {
    if (!known.tide) return "";
    if (known.tide.at !== undefined) return `tide ${trip.words.tide[known.tide.value]}, told ${clock.clock(known.tide.at)}`;
    const flow = known.tide.value, next = flows().find(([hour, other]) => hour * 60 > at && other === "slack");
    const turns = next && flow !== "slack" ? `, ${flow === "rising" ? "high" : "low"} in about ${Math.max(Math.round(next[0] - at / 60), 1)} h` : "";
    return flow === "slack" ? "slack tide" : `tide ${trip.words.tide[flow]}${turns}`;
  }

  // What is known now, and since when; what only is supposed says so.
  function said({ told }, at) {
    const known = facts.factsAt(told, at), when = (fact) => (fact.at === undefined ? "by the forecast" : `told ${clock.clock(fact.at)}`);
    const parts = [];
    if (known.light) parts.push(`${trip.words.light[known.light.value].toLowerCase()}, ${when(known.light)}`);
    parts.push(known.visibility_in ? `${panels.length(known.visibility_in.value)}, ${when(known.visibility_in)}` : `about ${panels.length(trip.now.visibility_in)}, an estimate`);
    if (known.food) parts.push(`${trip.words.food[known.food.value]}, ${when(known.food)}`);
    parts.push(tide(known, at), ...apart(told, at));
    return `${telling.capital(parts.filter(Boolean).join(" · "))}.`;
  }

  // What two phones say apart of one thing within the hour.
  function apart(told, at) {
    const found = [];
    for (const [name, words] of [["visibility_in", (value) => panels.length(value)], ["light", (value) => trip.words.light[value].toLowerCase()]]) {
      const all = told.filter((one) => one.data[name] !== undefined && at - one.at <= APART_MIN), last = all.at(-1);
      const other = all.findLast((one) => one.by !== last.by && words(one.data[name]) !== words(last.data[name]));
      if (other) found.push(`another phone says ${words(other.data[name])} (${clock.clock(other.at)})`);
    }
    return found;
  }

  // A word on the sky that holds no longer is asked about, once.
  function old({ told }, at) {
    const day = clock.dayOf(at), last = told.findLast((one) => one.data.light && clock.dayOf(one.at) === day), known = facts.factsAt(told, at).light;
    if (!last || asked.has(last.at) || known?.at !== undefined || known?.value === "night") return null;
    return { at: last.at, light: last.data.light, words: `Still ${trip.words.light[last.data.light].toLowerCase()}? You said so at ${clock.clock(last.at)}; the forecast has ${trip.words.light[known.value].toLowerCase()}.` };
  }

  function askOld(state, at) {
    const one = old(state, at);
    $("still").hidden = !one;
    if (!one) return;
    $("still-words").textContent = one.words;
    Object.assign($("still-yes").dataset, { still: one.light, at: one.at });
  }
  const answered = (at) => asked.add(Number(at));

  // The phone's clock against its own running: where it goes back, it was put right. Where it goes on, the phone may
  // as well have slept, and nothing is made of it.
  let base = Date.now() - performance.now(), late = { ids: [], by: 0 };
  function putBack() {
    const now = Date.now() - performance.now(), by = now - base;
    if (by > 0 || by <= -CLOCK_OFF_MS) base = now;
    return by <= -CLOCK_OFF_MS ? by : 0;
  }
  async function askClock() {
    const by = putBack(), unsent = by ? await keptTaps.clockMoved(by) : [];
    const turns = unsent.filter((tap) => tap.kind === "begin" && tap.trip === trip.trip).length;
    if (!unsent.length) return;
    late = { ids: unsent.map((tap) => tap.id), by };
    $("clock-words").textContent = `Your clock was ${Math.round(-by / 60000)} minutes fast: move ${turns === 1 ? "this turn" : `these ${turns} turns`}?`;
    $("clock-ask").hidden = false;
  }
  const moveLate = () => keptTaps.move(late.ids, late.by);

  // What a tray for the water as it was measured would take in and leave out; nothing without a signal.
  async function repack(url, inches) {
    const answer = await fetch(url, { signal: AbortSignal.timeout(15000) }).catch(() => null);
    const { changes } = (answer?.ok && await answer.json().catch(() => null)) || { changes: [] };
    const named = (way) => changes.filter((one) => one.way === way).map((one) => `${one.name.toLowerCase()}, ${trip.categories[one.category]?.toLowerCase() ?? one.category}`).join("; ");
    $("repack").hidden = !changes.length;
    $("repack-words").textContent = [`Repack for ${panels.length(inches)}?`, named("in") && `Take ${named("in")}.`, named("out") && `Leave ${named("out")}.`].filter(Boolean).join(" ");
  }

  return { said, askOld, answered, askClock, moveLate, repack };
};
