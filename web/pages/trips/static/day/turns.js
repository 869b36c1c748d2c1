// What the taps of one rod come to so far, for the screen; the server puts them together for the log. Another water or
// sky ends a turn and begins one with the same lure. What other phones tapped counts too; what is tied on is this one's,
// or where it has tapped nothing yet, that of the phone which tapped last.
window.turnsOf = (taps, angler, device) => {
  const drops = taps.filter((tap) => tap.kind === "drop");
  const stands = (id, seen = []) => !drops.some((drop) => drop.data.of === id && !seen.includes(drop.id) && stands(drop.id, [...seen, id]));
  const left = taps.filter((tap) => tap.kind !== "drop" && stands(tap.id));
  const mine = taps.some((tap) => tap.device === device) ? device : taps.at(-1)?.device ?? device;
  const water = {};
  for (const tap of left) if (tap.kind === "water") Object.assign(water, tap.data);
  const lines = [...new Set([mine, ...left.map((tap) => tap.device)])].map((one) => lineOf(left.filter((tap) => tap.device === one), angler));
  const turns = lines.flatMap((line) => line.turns).sort((one, other) => one.at - other.at);
  for (const line of lines.slice(1)) if (line.turn) line.turn.end ??= line.turn.at; // it goes on, on another phone
  return { test: lines[0].test, turns, turn: lines[0].turn, water, last: left.filter((tap) => tap.device === mine && (tap.angler === angler || tap.kind === "water")).at(-1) };
};

window.lineOf = (taps, angler) => {
  const turns = [];
  let test = null, turn = null;

  const begun = (tap, told) => ({ category: told.category, card: told.card, trailer: told.trailer ?? null, id: tap.id, device: tap.device, at: tap.at, bites: [], gone: 0, since: tap.at, light: told.light, visibility_in: told.visibility_in });

  for (const tap of taps) {
    if (tap.kind === "water" && turn) {
      const before = turn;
      before.end = tap.at;
      turn = { ...begun(tap, before), since: before.since, light: tap.data.light ?? before.light, visibility_in: tap.data.visibility_in ?? before.visibility_in };
      turns.push(turn);
    }
    if (tap.kind === "turn" && tap.angler === angler) turns.push({ ...begun(tap, tap.data), at: tap.data.start ?? tap.at, end: (tap.data.start ?? tap.at) + (tap.data.minutes ?? 0), bites: ["whole", "outside", "lost", "missed"].flatMap((how) => Array.from({ length: tap.data[how] ?? 0 }, () => ({ how }))) });
    if (tap.angler !== angler) continue;
    if (tap.kind === "test") test = tap.data.first ? { ...tap.data, turns: 0, bites: { [tap.data.first]: 0, [tap.data.second]: 0 } } : null;
    if (test && tap.kind === "begin" && tap.data.card in test.bites) test.turns += 1;
    if (test && turn && tap.kind === "bite" && turn.card in test.bites && test.turns) test.bites[turn.card] += 1;
    if (tap.kind === "begin") {
      if (turn) turn.end = tap.at;
      turn = begun(tap, tap.data);
      turns.push(turn);
    } else if (turn && tap.kind === "bite") turn.bites.push({ ...tap.data, id: tap.id, at: tap.at });
    else if (turn && tap.kind === "gone") turn.gone += 1;
    else if (turn && (tap.kind === "nothing" || tap.kind === "stop")) { turn.end = tap.at; turn.by = tap.kind; turn = null; }
  }
  return { test, turns, turn };
};
