// The fish, read with memory: `tackle.day.fish`, to the letter. Turns: { at (minutes), day, minutes, category, card,
// whole, outside, lost, missed, light, visibility_in }; `now` is what the kind is asked about, at `at` on `day`.
window.readFish = (book, schools) => {
  const ANYWAY = 5, HOUR = 60, MIDDAY = [11, 12, 13, 14];
  const nearly = (turn) => turn.outside + turn.lost + turn.missed > 0;
  const blank = (turn) => !turn.whole && !nearly(turn);
  const failed = (turn) => blank(turn) && turn.minutes >= ANYWAY;
  const role = (card) => book.cards[card].role;

  function counted(turns) {
    const found = {};
    for (const { card } of turns) found[card] = (found[card] ?? 0) + 1;
    return found;
  }

  function inTheseConditions(turn, now, day, at) {
    if (turn.day !== day || turn.at > at || (turn.light ?? now.light) !== now.light) return false;
    return turn.visibility_in == null || Math.abs(schools.bandOf(turn.visibility_in) - schools.bandOf(now.visibility_in)) <= 1;
  }

  // What to do of one kind, with which card; the order of what is left, and how often each was tried and failed.
  return (category, order, fished, now, day, at) => {
    const kind = book.kinds[category];
    const turns = fished.filter((turn) => turn.category === category && inTheseConditions(turn, now, day, at)).sort((one, other) => one.at - other.at);
    const bad = counted(turns.filter(failed)), late = new Set(turns.filter((turn) => failed(turn) && at - turn.at <= HOUR).map((turn) => turn.card));
    const twice = (card) => (bad[card] ?? 0) >= 2;
    const left = [...order].sort((one, other) => twice(one) - twice(other) || late.has(one) - late.has(other));
    const able = left.some((card) => !twice(card)) ? left.filter((card) => !twice(card)) : left;
    const last = turns.at(-1), caught = [...new Set(turns.filter((turn) => turn.whole).map((turn) => turn.card))];
    const tried = new Set(turns.map((turn) => role(turn.card))), lost = new Set(turns.filter(failed).map((turn) => role(turn.card)));
    const others = (card) => new Set(turns.map((turn) => turn.card).filter((one) => one !== card)).size;

    function stay() {
      if (!last || !caught.includes(last.card) || !left.includes(last.card)) return null;
      const mine = turns.filter((turn) => turn.card === last.card), fish = mine.findLastIndex((turn) => turn.whole);
      return mine.slice(fish + 1).filter(blank).length < 2 && others(last.card) >= 2 ? last.card : null;
    }
    function afterFish() {
      if (!caught.length || others(caught.at(-1)) >= 2) return null;
      return able.find((card) => !tried.has(role(card))) ?? null;
    }
    function near() {
      if (!last || !nearly(last)) return null;
      const untried = able.filter((card) => !turns.some((turn) => turn.card === card));
      for (const group of kind.steps[last.card] ?? []) { const found = untried.find((card) => group.includes(card)); if (found) return found; }
      return null;
    }
    function back() {
      const almost = [...new Set(turns.filter(nearly).map((turn) => turn.card))];
      return [...caught.toReversed(), ...almost.toReversed()].find((card) => left.includes(card) && !twice(card)) ?? null;
    }
    function loud() {
      const { loud_in: clear, loud_f: warm } = book.water, fast = now.pace == null || now.pace === "fast";
      const here = now.visibility_in > clear && now.water_temp_f != null && now.water_temp_f > warm;
      if (!MIDDAY.includes(Math.floor(at / 60) % 24) || !here || !kind.fast || !fast || lost.size < 2) return null;
      return able.find((card) => role(card) === "loud") ?? null;
    }
    const rules = [
      ["begin", () => (turns.length ? null : able[0] ?? null)], ["stay", stay], ["turn", afterFish], ["near", near], ["back", back], ["loud", loud],
      ["turn", () => able.find((card) => !lost.has(role(card))) ?? null],
    ];
    for (const [what, propose] of rules) {
      const card = propose();
      if (card) return { do: what, card, order: [card, ...left.filter((one) => one !== card)], tried: counted(turns), failed: bad, last };
    }
    return { do: "place", card: null, order: left, tried: counted(turns), failed: bad, last };
  };
};

// What to throw now, over all kinds: the rod's first, and only where that ends in another place the next.
window.throwNow = (book) => {
  const schools = askSchools(book), read = readFish(book, schools);

  // `told`: { category: what is known } ; `tray`, `aboard`: { category: cards } ; `listed`: kinds, the rod's first.
  return ({ listed, told, tray, aboard, turns, day, at }) => {
    const trailers = tray["jig-trailer"] ?? [], kinds = {};
    for (const category of listed) {
      const answer = schools.ask(category, told[category]), mine = schools.listed(category, tray[category] ?? []);
      const seen = read(category, answer.order(mine, schools.factors(category, told[category])), turns, told[category], day, at);
      kinds[category] = { answer, seen };
    }
    const spoken = listed.find((category) => kinds[category].seen.card) ?? listed[0];
    const piece = (category, card) => ({
      category, card, trailer: card && schools.trailerOn(category, card, told[category], trailers),
      ...(card ? schools.said(category, told[category], kinds[category].answer, card) : { from: null }),
    });
    const order = [spoken, ...listed.filter((one) => one !== spoken)].flatMap((category) => kinds[category].seen.order.map((card) => ({
      ...piece(category, card), tried: kinds[category].seen.tried[card] ?? 0, failed: kinds[category].seen.failed[card] ?? 0,
    })));
    const better = schools.aboardBetter(kinds[spoken].answer, kinds[spoken].seen.order, aboard[spoken] ?? []);
    return { do: kinds[spoken].seen.do, last: kinds[spoken].seen.last, ...piece(spoken, kinds[spoken].seen.card), order, better };
  };
};
