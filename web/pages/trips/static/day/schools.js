// Asks the schools without a signal, by the calls that came with the page: what `tackle.schools` and `tackle.day.now`
// say, to the letter. No rule is made here; a test holds both equal.
window.askSchools = (book) => {
  const { weights, water, words } = book, GO_TO = 0, AVOID = 2;
  const inches = [water.edges[0] / 2, ...water.edges, water.edges.at(-1) * 2], rungs = inches.map(Math.log2);

  const along = (value, from, to) => {
    const place = from.findLastIndex((one) => one <= value);
    if (place < 0) return to[0];
    if (place === from.length - 1) return to.at(-1);
    return to[place] + (to[place + 1] - to[place]) / (from[place + 1] - from[place]) * (value - from[place]);
  };

  // So many bands, or parts of one, murkier, at the same place inside.
  function stepDown(visibility, steps) {
    if (steps <= 0) return visibility;
    const places = rungs.map((_, place) => place), last = rungs.length - 1, seen = Math.log2(Math.max(visibility, 1e-3));
    let place = along(seen, rungs, places);
    if (seen > rungs[last]) place = last + seen - rungs[last];
    if (seen < rungs[0]) place = seen - rungs[0];
    place -= steps;
    if (place > last) return 2 ** (rungs[last] + place - last);
    return 2 ** (place < 0 ? rungs[0] + place : along(place, places, rungs));
  }

  function sightIn({ visibility_in: visibility, light, wind, depth_ft: depth }) {
    if (light === "night") return 0;
    const dim = light === "overcast" || light === "low", rough = wind === "chop", deep = (depth ?? 0) > water.dim_depth_ft;
    return stepDown(visibility, (dim && rough ? 1 : dim || rough ? water.tips : 0) + (deep ? 1 : 0));
  }

  const bandOf = (visibility) => water.edges.filter((edge) => visibility >= edge).length;

  // What is known, by the columns that calls are held against; what nobody says is null.
  function situation(kind, told) {
    const now = { ...told, depth_ratio: null, norm_ratio: null, sight_in: sightIn(told) };
    if (told.depth_ft != null) now.depth_ratio = told.depth_ft * 12 / told.visibility_in;
    if (told.norm_in != null) now.norm_ratio = told.visibility_in / told.norm_in;
    if (book.kinds[kind].trailer) now.with ??= "green-pumpkin";
    return now;
  }

  const has = (mask, name, word) => {
    const place = words[name].indexOf(word ?? "unknown");
    return Math.floor(mask / 2 ** (place < 0 ? words[name].length : place)) % 2 === 1;
  };

  function inside([low, below], value) {
    if (value == null) return false;
    const from = low ?? -Infinity, to = below ?? Infinity;
    return from >= to ? value >= from || value < to : value >= from && value < to;
  }

  const holds = (call, now) => Object.entries(call.r).every(([name, span]) => inside(span, now[name]))
    && Object.entries(call.a).every(([name, mask]) => name === "forage" ? now.forage.some((food) => has(mask, name, food)) : has(mask, name, now[name]));

  const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);
  const isTold = (name, now) => { const on = water.rests_on[name] ?? name; return !same(now[on] ?? null, water.unsaid[on] ?? null); };

  function weight(kind, school, call, now) {
    let named = call.c ? 1 : 0;
    for (const name of call.n) named += (name === "forage" ? now.forage.some((food) => food !== "unknown" && has(call.a.forage, name, food)) : isTold(name, now)) ? 1 : 0;
    const eaten = call.n.includes("forage") && now.forage.some((food) => food !== "unknown" && has(call.a.forage, "forage", food));
    const leads = kind.leads[school].some(([season, fed]) => (season === null || season === now.season) && (!fed || eaten));
    return (1 + named) ** weights.power * (leads ? weights.leads : 1) * (call.x ? weights.lifted : 1);
  }

  const likeness = (card, forage) => Math.max(0, ...book.cards[card].imitates.map((food, place) => forage.includes(food) ? 1 / (1 + place) : 0));

  // A school's verdicts on some cards, by their places among the kind's, best first, those to avoid last.
  function rank(kind, school, places, now) {
    const decided = new Map();
    for (const call of kind.calls[school]) if (holds(call, now)) call.w.forEach((row, at) => decided.set(row, { call, matched: call.m[at] }));
    const verdicts = places.filter((row) => decided.has(row)).map((row) => ({ card: kind.cards[row], ...decided.get(row) }));
    for (const one of verdicts) one.alike = likeness(one.card, now.forage);
    verdicts.sort((one, other) => one.call.g - other.call.g || one.call.p - other.call.p || other.alike - one.alike || other.matched - one.matched);
    const seen = new Set(), first = [[], [], []], versions = [[], [], []];
    for (const one of verdicts) {
      const tone = book.cards[one.card].tone, key = `${one.call.g} ${kind.on_top && tone === "bone" ? "white" : tone}`;
      (seen.has(key) ? versions : first)[one.call.g].push(one);
      seen.add(key);
    }
    return [0, 1, 2].flatMap((grade) => [...first[grade], ...versions[grade]]);
  }

  function reachedFirst(verdicts) {
    const reached = verdicts.filter((one) => one.call.g === GO_TO);
    return reached.filter((one) => one.call.p === reached[0].call.p);
  }

  // What all followed schools say in one situation: the order of cards from what leads on, what is as good, who speaks.
  function asked(kind, now, ranked) {
    const votes = new Map(), familyVotes = new Map(), voices = new Map(), suits = new Map();
    const familyOf = (card) => kind.families[kind.cards.indexOf(card)];
    // In whole millionths, as the core counts them.
    ranked.forEach((verdicts, school) => {
      const best = new Map();
      reachedFirst(verdicts).forEach((one, place) => {
        const counts = Math.floor(weight(kind, school, one.call, now) * 1e7 / (10 + place)), kin = familyOf(one.card);
        votes.set(one.card, (votes.get(one.card) ?? 0) + counts);
        best.set(kin, Math.max(best.get(kin) ?? 0, counts));
        if (!(counts <= voices.get(one.card)?.counts)) voices.set(one.card, { counts, school, why: one.call.y });
      });
      best.forEach((counts, kin) => familyVotes.set(kin, (familyVotes.get(kin) ?? 0) + counts));
    });
    const kinVotes = (card) => familyVotes.get(familyOf(card)) ?? 0;
    const suit = (card) => suits.get(card) ?? 0;
    for (const one of ranked.flat()) suits.set(one.card, Math.max(suit(one.card), AVOID - one.call.g));
    const most = Math.max(0, ...familyVotes.values());

    // Some cards from what leads on: by the votes of their family, by their own, by how well they suit.
    function order(some, factors) {
      const trust = (card) => (kinVotes(card) ? weights.trusts * kinVotes(card) / most : suit(card) ? 0 : -weights.warns) + Math.log(factors[card] ?? 1);
      const standing = [...some].sort((one, other) =>
        (factors ? trust(other) - trust(one) : 0) || kinVotes(other) - kinVotes(one) || (votes.get(other) ?? 0) - (votes.get(one) ?? 0)
        || suit(other) - suit(one));
      const tones = new Set(), fresh = standing.filter((card) => {
        const { tone } = book.cards[card], best = suit(card) && !tones.has(tone);
        if (suit(card)) tones.add(tone);
        return best;
      });
      return [...fresh, ...standing.filter((card) => !fresh.includes(card))];
    }

    // Who speaks first of a card: a school and the place of its reason, null where none accepts it.
    function voice(card) {
      if (voices.has(card)) return voices.get(card);
      let best = null;
      ranked.forEach((verdicts, school) => verdicts.filter((one) => one.card === card && one.call.g !== AVOID).forEach((one) => {
        const reaches = one.call.g === GO_TO, counts = weight(kind, school, one.call, now);
        if (!best || reaches > best.reaches || (reaches === best.reaches && counts > best.counts)) best = { reaches, counts, school, why: one.call.y };
      }));
      return best;
    }

    // What is as good as the first word, that first: of families with at least two thirds of the most votes.
    function asGood() {
      const good = kind.cards.filter((card) => suit(card) && most > 0 && 3 * kinVotes(card) >= 2 * most);
      return good.sort((one, other) => kinVotes(other) - kinVotes(one) || (votes.get(other) ?? 0) - (votes.get(one) ?? 0));
    }

    const first = (some) => { const card = order(some, null)[0]; return card && voice(card) ? card : null; };
    return { order, voice, first, asGood };
  }

  // Some cards in the kind's order.
  const listed = (category, cards) => book.kinds[category].cards.filter((card) => cards.includes(card));

  function ask(category, told) {
    const kind = book.kinds[category], now = situation(category, told), every = kind.cards.map((_, row) => row);
    return asked(kind, now, book.schools.map((_, school) => rank(kind, school, every, now)));
  }

  // How many times the average each colour gets there by the log; null where it tells nothing.
  function factors(category, told) {
    const { cells } = water, clarity = told.visibility_in < cells.murky ? "murky" : told.visibility_in >= cells.clear ? "clear" : "middling";
    return book.kinds[category].log[`${clarity}|${cells.bright.includes(told.light) ? "bright" : "dim"}`] ?? null;
  }

  // Why a card, and who says so: the log, a school by its id, or nobody.
  function said(category, told, answer, card) {
    const times = factors(category, told)?.[card];
    if (times >= weights.noted) return { times, from: "log" };
    const voice = answer.voice(card);
    return voice ? { why: book.whys[voice.why], from: book.schools[voice.school].id } : { why: "", from: null };
  }

  // The trailer to thread on a jig: what leads of those that are there.
  function trailerOn(category, jig, told, trailers) {
    if (!trailers.length || !book.kinds[category].jig) return null;
    return ask("jig-trailer", { ...told, with: book.cards[jig].tone }).first(listed("jig-trailer", trailers));
  }

  // What lies aboard and is as good as the first word, where nothing of the tray is.
  function aboardBetter(answer, left, aboard) {
    const good = answer.asGood(), card = good.find((one) => aboard.includes(one));
    if (!card || good.some((one) => left.includes(one))) return null;
    return { card, why: book.whys[answer.voice(card).why] };
  }

  return { ask, listed, factors, said, trailerOn, aboardBetter, bandOf, sightIn };
};
