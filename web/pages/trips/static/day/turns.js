// What the taps of one rod come to so far, for the screen; the server puts them together for the log. A turn of another
// phone that was on while one of this phone was is another rod's; else it is the same angler's, on another phone or typed.
window.turnsOf = (taps, angler, device) => {
  const drops = taps.filter((tap) => tap.kind === "drop");
  const stands = (id, seen = []) => !drops.some((drop) => drop.data.of === id && !seen.includes(drop.id) && stands(drop.id, [...seen, id]));
  const left = taps.filter((tap) => tap.kind !== "drop" && stands(tap.id));
  const mine = taps.some((tap) => tap.device === device) ? device : taps.at(-1)?.device ?? device;
  const devices = [...new Set([mine, ...left.map((tap) => tap.device)])], anglers = [...new Set([angler, ...left.map((tap) => tap.angler)])];
  const lines = devices.flatMap((one) => anglers.map((who) => ({ device: one, angler: who, ...lineOf(left.filter((tap) => tap.device === one && tap.angler === who)) })));
  const { test, turn, turns } = lines[0];
  const meets = (one) => one.device !== "here" && turns.some((other) => one.at < (other.end ?? Infinity) && other.at < (one.end ?? Infinity));
  const others = lines.slice(1).flatMap((line) => line.turns.map((one) => ({ ...one, partner: line.angler !== angler || meets(one) })));
  const told = left.filter((tap) => tap.kind === "water").map(({ at, data, device: by }) => ({ at, data, by }));
  const every = [...turns, ...others].sort((one, other) => one.at - other.at);
  return { test, turns: every, turn, told, last: left.filter((tap) => tap.device === mine && (tap.angler === angler || tap.kind === "water")).at(-1) };
};

// The turns of one rod on one phone, and what is on; a fair test where one goes on.
window.lineOf = (taps) => {
  const turns = [];
  let test = null, turn = null;

  const begun = (tap) => ({ category: tap.data.category, card: tap.data.card, trailer: tap.data.trailer ?? null, id: tap.id, device: tap.device, at: tap.at, bites: [], gone: 0 });

  for (const tap of taps) {
    if (tap.kind === "turn") {
      const start = tap.data.start ?? tap.at, end = start + (tap.data.minutes ?? 0);
      turns.push({ ...begun(tap), at: start, end, bites: ["whole", "outside", "lost", "missed", "follow"].flatMap((how) => Array.from({ length: tap.data[how] ?? 0 }, () => ({ how, at: end }))) });
    }
    if (tap.kind === "test") test = tap.data.first ? { ...tap.data, turns: 0, bites: { [tap.data.first]: 0, [tap.data.second]: 0 } } : null;
    if (test && tap.kind === "begin" && tap.data.card in test.bites) test.turns += 1;
    if (test && turn && tap.kind === "bite" && turn.card in test.bites && test.turns) test.bites[turn.card] += 1;
    if (tap.kind === "begin") {
      if (turn) turn.end = tap.at;
      turn = begun(tap);
      turns.push(turn);
    } else if (turn && tap.kind === "bite") turn.bites.push({ ...tap.data, id: tap.id, at: tap.at });
    else if (turn && tap.kind === "gone") turn.gone += 1;
    else if (turn && (tap.kind === "nothing" || tap.kind === "stop")) { turn.end = tap.at; turn.by = tap.kind; turn = null; }
  }
  return { test, turns, turn };
};

// A turn as the fish are read: so many turns of its own length, each in parts of one light and clarity. One that goes on
// has no whole last turn yet, but where it is `done`.
window.piecesOf = (turn, at, { facts, told, length, done = false }) => {
  const NOT_YET = 4.99, goesOn = turn.end === undefined, pieces = [];
  let end = Math.max(turn.end ?? at, turn.at);
  if (goesOn && done) end = turn.at + Math.max(Math.ceil((end - turn.at) / length), 1) * length;
  for (let begins = turn.at; begins < end || !pieces.length; begins += length) {
    const until = Math.min(begins + length, end), open = goesOn && !done && until === end && until - begins < length;
    const parts = [];
    for (const from of [begins, ...facts.turningPoints(told, begins, until)]) {
      const known = facts.factsAt(told, from), light = known.light?.value ?? null, seen = known.visibility_in?.value ?? null;
      if (parts.length && parts.at(-1).light === light && parts.at(-1).visibility_in === seen && from % 1440) continue;
      if (parts.length) parts.at(-1).minutes = from - parts.at(-1).at;
      parts.push({ at: from, minutes: until - from, light, visibility_in: seen });
    }
    if (open) { const before = parts.slice(0, -1).reduce((sum, part) => sum + part.minutes, 0); parts.at(-1).minutes = Math.min(parts.at(-1).minutes, Math.max(NOT_YET - before, 0)); }
    const last = until === end;
    const bites = turn.bites.filter((bite) => begins <= bite.at && (bite.at < until || last)).map((bite) => ({ at: bite.at, how: bite.how, light: facts.factsAt(told, bite.at).light?.value ?? null }));
    pieces.push({ category: turn.category, card: turn.card, partner: Boolean(turn.partner), parts, bites });
  }
  return pieces;
};
