// The fish, read with memory: `tackle.day.fish`, to the letter. Turns: { category, card, partner, parts: [{ at, minutes,
// light, visibility_in }], bites: [{ at, how, light }] }, in minutes since the trip's first midnight; `now` is what the
// kind is asked about, at the minute `at`.
window.readFish = (book, schools) => {
  const BLANK_AFTER = 5, RECENT = 20, TOLD_TO_BOTH = 30, MOST_BLANKS = 2, HOUR = 60, MIDDAY = [11, 12, 13, 14];
  const SUN = ["bright", "broken"], SHADE = ["overcast", "low"], SHY = ["missed", "follow"];
  const role = (card) => book.cards[card].role;
  const dayOf = (minute) => Math.floor(minute / 1440), until = (part) => part.at + part.minutes;
  const begun = (turn) => turn.parts[0].at;
  const isBlank = (turn) => !turn.bites.length && turn.parts.reduce((sum, part) => sum + part.minutes, 0) >= BLANK_AFTER;

  function counted(turns) {
    const found = {};
    for (const { card } of turns) found[card] = (found[card] ?? 0) + 1;
    return found;
  }

  function countsNow(turn, now, at) {
    const here = schools.bandOf(now.visibility_in);
    const alike = (part) => dayOf(part.at) === dayOf(at) && (part.light ?? now.light) === now.light
      && (part.visibility_in == null || Math.abs(schools.bandOf(part.visibility_in) - here) <= 1);
    return turn.parts.some((part) => part.at <= at && (until(part) > at - RECENT || alike(part)));
  }

  // What to do of one kind, with which card; the order of what is left, and how often each was thrown and blank.
  return (category, order, isAccepted, fished, now, at, partner) => {
    const kind = book.kinds[category], kin = (card) => kind.families[kind.cards.indexOf(card)];
    const every = fished.filter((turn) => turn.category === category && begun(turn) <= at).sort((one, other) => begun(one) - begun(other));
    const turns = every.filter((turn) => countsNow(turn, now, at)), mine = turns.filter((turn) => !turn.partner);
    const tried = counted(turns), failed = counted(turns.filter(isBlank));
    const late = new Set(turns.filter((turn) => isBlank(turn) && at - begun(turn) <= HOUR).map((turn) => turn.card));
    const twice = (card) => (failed[card] ?? 0) >= 2;
    const left = [...order].sort((one, other) => twice(one) - twice(other) || late.has(one) - late.has(other));
    const thrown = new Set(turns.map((turn) => kin(turn.card))), blank = new Set(turns.filter(isBlank).map((turn) => kin(turn.card)));
    const able = left.some(isAccepted) ? left.filter(isAccepted) : left, fresh = able.filter((card) => !thrown.has(kin(card)));
    const on = mine.at(-1)?.card ?? null;
    const came = (within, some) => some.flatMap((turn) => turn.bites.map((bite) => ({ card: turn.card, ...bite })))
      .filter((bite) => at - within <= bite.at && bite.at <= at).sort((one, other) => one.at - other.at);
    const blanksSince = (family, bite) => turns.filter((turn) => kin(turn.card) === family && isBlank(turn) && begun(turn) >= bite.at).length;
    const apart = (cards) => cards.find((card) => !partner || role(card) !== role(partner)) ?? cards[0] ?? null;

    function seeThrough() {
      if (!SUN.includes(now.light)) return null;
      const shaded = (bite) => every.filter((turn) => turn.card === bite.card).flatMap((turn) => turn.parts)
        .some((part) => SHADE.includes(part.light) && dayOf(part.at) === dayOf(bite.at) && part.at <= bite.at);
      const bite = came(RECENT, mine).findLast((one) => SHY.includes(one.how) && SUN.includes(one.light ?? now.light) && shaded(one));
      if (!bite) return null;
      const clear = left.filter((card) => book.cards[card].through && card !== bite.card);
      return mine.some((turn) => begun(turn) >= bite.at && clear.includes(turn.card)) ? null : clear[0] ?? null;
    }
    // With a partner: the families on which two came within half an hour, the most bitten first.
    function bittenTwice() {
      if (!every.some((turn) => turn.partner)) return [];
      const found = new Map();
      for (const bite of came(TOLD_TO_BOTH, every)) found.set(kin(bite.card), [...found.get(kin(bite.card)) ?? [], bite]);
      return [...found].filter(([family, bites]) => bites.length >= 2 && blanksSince(family, bites.at(-1)) < MOST_BLANKS)
        .sort((one, other) => other[1].length - one[1].length).map(([family]) => family);
    }
    function recentOn() {
      const bites = came(RECENT, mine).filter((bite) => bite.card === on);
      return bites.length && blanksSince(kin(on), bites.at(-1)) < MOST_BLANKS ? bites : [];
    }
    function step() {
      const bites = recentOn();
      if (bites.length < 2 || bites.some((bite) => bite.how === "whole")) return null;
      for (const group of kind.steps[on] ?? []) { const found = fresh.find((card) => group.includes(card)); if (found) return found; }
      return null;
    }
    function loud() {
      const { loud_in: clear, loud_f: warm } = book.water, fast = now.pace == null || now.pace === "fast";
      const here = now.visibility_in > clear && now.water_temp_f != null && now.water_temp_f > warm;
      const roles = [...new Set(left.map(role))], lost = roles.filter((one) => left.every((card) => role(card) !== one || blank.has(kin(card))));
      if (!MIDDAY.includes(Math.floor(at / 60) % 24) || !here || !kind.fast || !fast || lost.length < 2) return null;
      return left.find((card) => role(card) === "loud" && !blank.has(kin(card))) ?? null;
    }
    function back() {
      const bites = turns.flatMap((turn) => turn.bites.map((bite) => ({ card: turn.card, ...bite }))).filter((bite) => bite.how === "whole").sort((one, other) => other.at - one.at);
      return bites.find((bite) => left.includes(bite.card) && blanksSince(kin(bite.card), bite) < MOST_BLANKS)?.card ?? null;
    }
    const begin = () => (mine.length || !left.length ? null : partner ? apart(able) : left[0]);
    const staysShared = () => (on && left.includes(on) && bittenTwice().includes(kin(on)) ? on : null);
    const turnsShared = () => bittenTwice().map((family) => left.find((card) => kin(card) === family)).find(Boolean) ?? null;
    const rules = [
      ["near", seeThrough], ["stay", staysShared, true], ["turn", turnsShared, true], ["begin", begin], ["near", step],
      ["stay", () => (recentOn().length && left.includes(on) ? on : null)],
      ["near", () => (on ? fresh.find((card) => role(card) === role(on)) ?? null : null)],
      ["loud", loud], ["turn", () => apart(fresh)], ["back", back], ["turn", () => able.find((card) => !blank.has(kin(card))) ?? null],
    ];
    for (const [what, propose, shared = false] of rules) {
      const card = propose();
      if (card) return { do: what, card, shared, order: [card, ...left.filter((one) => one !== card)], tried, failed, last: mine.at(-1) };
    }
    return { do: "place", card: null, shared: false, order: left, tried, failed, last: mine.at(-1) };
  };
};

// What to throw now, over all kinds: the rod's first, and only where that ends in another place the next.
window.throwNow = (book) => {
  const schools = askSchools(book), read = readFish(book, schools);

  // `told`: { category: what is known } ; `tray`, `aboard`: { category: cards } ; `listed`: kinds, the rod's first;
  // `partner`: what the other one throws, of whatever kind.
  return ({ listed, told, tray, aboard, turns, at, partner = null }) => {
    const trailers = tray["jig-trailer"] ?? [], kinds = {};
    for (const category of listed) {
      const answer = schools.ask(category, told[category]), mine = schools.listed(category, tray[category] ?? []);
      const order = answer.order(mine, schools.factors(category, told[category]));
      kinds[category] = { answer, seen: read(category, order, (card) => answer.voice(card) !== null, turns, told[category], at, partner) };
    }
    const stays = kinds[listed[0]].seen.do === "stay";
    const spoken = (stays ? listed[0] : listed.find((category) => kinds[category].seen.shared)) ?? listed.find((category) => kinds[category].seen.card) ?? listed[0];
    const piece = (category, card) => ({
      category, card, trailer: card && schools.trailerOn(category, card, told[category], trailers),
      ...(card ? schools.said(category, told[category], kinds[category].answer, card) : { from: null }),
    });
    const order = [spoken, ...listed.filter((one) => one !== spoken)].flatMap((category) => kinds[category].seen.order.map((card) => ({
      ...piece(category, card), tried: kinds[category].seen.tried[card] ?? 0, failed: kinds[category].seen.failed[card] ?? 0,
    })));
    const better = schools.aboardBetter(kinds[spoken].answer, kinds[spoken].seen.order, aboard[spoken] ?? []);
    const { do: what, last, shared } = kinds[spoken].seen;
    return { do: what, last, shared, ...piece(spoken, kinds[spoken].seen.card), order, better };
  };
};
