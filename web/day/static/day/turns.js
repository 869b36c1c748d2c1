// What the taps of one rod come to so far, for the screen; the server puts them together for the log. Another water or
// sky ends a turn and begins one with the same lure.
window.turnsOf = (taps, angler) => {
  const dropped = new Set(taps.filter((tap) => tap.kind === "drop").map((tap) => tap.data.of));
  const left = taps.filter((tap) => !dropped.has(tap.id) && tap.kind !== "drop");
  const water = {}, turns = [];
  let test = null, turn = null;

  const begun = (tap, told) => ({ category: told.category, card: told.card, trailer: told.trailer ?? null, id: tap.id, at: tap.at, bites: [], gone: 0, since: tap.at, light: told.light, visibility_in: told.visibility_in });

  for (const tap of left) {
    if (tap.kind === "water") Object.assign(water, tap.data);
    if (tap.kind === "water" && turn) {
      const before = turn;
      before.end = tap.at;
      turn = { ...begun(tap, before), since: before.since, light: tap.data.light ?? before.light, visibility_in: tap.data.visibility_in ?? before.visibility_in };
      turns.push(turn);
    }
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
  return { test, turns, turn, water, last: left.filter((tap) => tap.angler === angler || tap.kind === "water").at(-1) };
};
