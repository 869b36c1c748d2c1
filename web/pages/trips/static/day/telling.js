// What the screen says of what to throw now: one sentence, and what it rests on.
window.tellingOf = (trip, clock) => {
  const COUNTED = ["no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];
  const many = (count) => COUNTED[count] ?? String(count);
  const name = (card) => trip.cards[card]?.name ?? card;
  const small = (card) => name(card).toLowerCase();
  const pair = (piece) => !piece.trailer ? small(piece.card) : piece.trailer === piece.card ? `${small(piece.card)}, its trailer to match` : `${small(piece.card)}, ${small(piece.trailer)} on it`;
  const capital = (words) => words[0].toUpperCase() + words.slice(1);
  const school = (id) => trip.book.schools.find((one) => one.id === id)?.name ?? "";
  const HOW = { whole: "Solid", outside: "Barely hooked", lost: "Came off", missed: "Missed", follow: "A follow" };

  // Why a card: in the words of who says so.
  function reason(piece) {
    if (piece.from === "log") return `Your log: ${piece.times.toFixed(1)} times the bites of the average in water like this.`;
    return piece.why ? `${piece.why}${school(piece.from) && ` (${school(piece.from)})`}` : "No rulebook you follow has advice on it here.";
  }

  // What came last, as what an answer rests on: "Missed on shad, 8 min ago, under cloud."
  function lastCame(turn, at) {
    const bite = turn.bites.at(-1), part = turn.parts.at(-1), ago = Math.max(Math.round(at - (bite?.at ?? part.at + part.minutes)), 0);
    const light = (bite ?? part).light ? `, under ${trip.words.light[(bite ?? part).light].toLowerCase()}` : "";
    return `${bite ? HOW[bite.how] : "No bites"} on ${small(turn.card)}, ${ago ? `${ago} min ago` : "just now"}${light}.`;
  }

  const nearly = (last) => Boolean(last?.bites.length) && last.bites.every((bite) => bite.how !== "whole");

  // The sentence; what it rests on; whether the proposed lure is to be tied on now.
  function tell(now, turn, over, at) {
    const piece = now.card && { card: now.card, trailer: now.trailer, from: now.from, why: now.why, times: now.times };
    const rests = [now.last && lastCame(now.last, at), piece && reason(piece)].filter(Boolean).join(" ");
    const same = turn && piece && turn.category === now.category && turn.card === piece.card;
    const whole = turn?.bites.filter((bite) => bite.how === "whole").length, minutes = turn && Math.round(at - turn.at);
    if (!piece) return { say: "Try another spot: what you packed for this had its turn here.", rests: "Each was thrown for five minutes or more without a bite.", card: null };
    if (now.shared && !same) return { say: `Two bites on ${pair(piece)}: throw it too.`, rests, throwNow: true };
    if (now.do === "stay") return { say: `Stay with ${pair(piece)}.`, more: whole ? (minutes < 1 ? `${many(whole)} solid already.` : `${many(whole)} solid in ${many(minutes)} minute${minutes === 1 ? "" : "s"}.`) : "", rests, throwNow: !same };
    const stays = same && now.do === "back" && turn.bites.at(-1)?.how === "whole";
    if (stays) return { say: `Stay with ${pair(piece)}.`, more: `${many(whole)} solid in ${minutes < 1 ? "no time" : `${many(minutes)} minute${minutes === 1 ? "" : "s"}`}.`, rests, throwNow: false };
    if (same && now.do === "back" && turn.bites.length) return { say: `Nearly. Keep throwing ${small(turn.card)}: nothing closer to it is packed.`, rests, throwNow: false };
    if (same) return { say: `Keep throwing ${small(turn.card)}.`, rests, throwNow: false };
    const say = {
      begin: `Begin with ${pair(piece)}.`, near: nearly(now.last) ? `Nearly. Change one step: ${pair(piece)}.` : `Another finish: ${pair(piece)}.`, back: `Back to ${pair(piece)}.`,
      loud: `Go loud: ${pair(piece)}, wound as fast as you can.`,
      turn: whole ? `Fish are here. Now ${pair(piece)}.` : turn || now.last ? `Now ${pair(piece)}.` : `Begin with ${pair(piece)}.`,
    }[now.do];
    if (turn && !over && !turn.bites.length) return { say: `Keep throwing ${small(turn.card)}.`, rests: `Then ${pair(piece)}: ${reason(piece)}`, throwNow: false };
    return { say, rests, throwNow: true };
  }

  // A fair test: first, second, second, first, until the evidence that came with the page is reached.
  function testing({ test, turn }, at) {
    const [first, second] = [test.first, test.second], counts = [test.bites[first], test.bites[second]], total = counts[0] + counts[1];
    const end = trip.test.ends[total] ?? null, better = counts[0] >= counts[1] ? first : second;
    const next = [first, second, second, first][test.turns % 4], score = `${counts[0]} to ${counts[1]}`, { category } = test;
    if (end !== null && Math.max(...counts) >= end) return { say: `Settled: ${small(better)}, ${score}.`, rests: "Luck alone does that in at most one test of twenty. End the test under More.", category, card: better, throwNow: true };
    const over = turn && at - turn.at >= trip.turn;
    if (turn && turn.card in test.bites && !over) return { say: `Fair test: keep throwing ${small(turn.card)}.`, more: `${score} so far.`, rests: `Then ${small(next)}, on the same spot.`, category, card: next, throwNow: false };
    return { say: `Fair test: ${small(next)} now.`, more: total ? `${score} so far.` : "", rests: `It takes about ${trip.test.twice} bites to tell if one gets twice the bites of the other, ${trip.test.half_more} if it gets half as many more.`, category, card: next, over, throwNow: true };
  }

  // What lies in the boat and is a first choice where nothing packed is.
  function aboard({ category, better }) {
    if (!better) return "";
    const place = trip.where[`${category} ${better.card}`];
    return `Not packed, but a first choice now: ${small(better.card)}${place ? `, in ${place}` : ""}. ${better.why}`;
  }

  // Where what lies in the boat is taken from, for the button.
  function fetched(category, card) {
    const place = trip.where[`${category} ${card}`];
    return place ? `${small(card)}, ${place}: 20 seconds` : `${small(card)}, from the boat`;
  }

  return { tell, testing, how: (bite) => HOW[bite].toLowerCase(), aboard, fetched, reason, name, small, pair, capital };
};
