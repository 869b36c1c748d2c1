// What to throw without a signal: the form is answered for what is along, by the rules that this phone keeps of a trip.
(() => {
  const form = document.getElementById("ask-form"), answer = document.getElementById("answer"), owner = document.documentElement.dataset.who;
  const metric = document.documentElement.dataset.system === "metric", BY_THE_TRIP = ["see", "category", "food", "on", "month", "temp", "depth", "norm"];

  // The trip of this phone that is nearest to now, as its page holds it.
  async function keptTrip() {
    if (!(await who.is(owner))) return null;
    const cache = await caches.open(`day-${owner}`), now = Date.now(), trips = [];
    for (const request of await cache.keys()) {
      const page = await cache.match(request), span = JSON.parse(page.headers.get("x-wax-trip") ?? "null");
      if (span && /\/water\/$/.test(new URL(request.url).pathname)) trips.push({ page, away: Math.max(span.from - now, now - span.until, 0) });
    }
    const nearest = trips.sort((one, other) => one.away - other.away)[0];
    return nearest && JSON.parse(new DOMParser().parseFromString(await nearest.page.text(), "text/html").getElementById("trip-data").textContent);
  }

  // What was asked, over what the trip knows of this hour.
  function situation(trip, category, data) {
    const minute = clockOf(trip).minuteOf(Date.now()), { light, wind, water_temp_f, season } = factsOf(trip).hourAt(minute);
    const asked = { ...trip.told[category], light, wind, water_temp_f, season, visibility_in: readInches(data.get("see"), metric) };
    for (const [name, value] of data) if (value && !BY_THE_TRIP.includes(name)) asked[name] = value;
    if (data.get("food")) asked.forage = [data.get("food")];
    if (data.get("on")) asked.with = data.get("on");
    return asked;
  }

  // The lure to begin with of a category: what is a first choice, else the best of what is along.
  function best(trip, category, asked) {
    const rules = askSchools(trip.book), said = rules.ask(category, asked), along = trip.aboard[category] ?? [], good = said.asGood();
    const first = good.find((card) => along.includes(card)), card = first ?? said.first(rules.listed(category, along));
    const voice = card && said.voice(card);
    return voice && { category, card, first: Boolean(first), asGood: good.filter((one) => one !== card && along.includes(one)), why: trip.book.whys[voice.why], rulebook: trip.book.schools[voice.school].name };
  }

  const line = (name, text, className = "") => Object.assign(document.createElement(name), { textContent: text, className });

  function show(trip, found, asked) {
    const small = (card) => trip.cards[card].name.toLowerCase(), at = (one) => trip.where[`${one.category} ${one.card}`];
    const lines = found.flatMap((one, place) => [
      line(place ? "h2" : "h1", `${one.first ? "Start with" : "Nothing that is along is a first choice. The best of it:"} ${small(one.card)}${at(one) ? `, in ${at(one)}` : ""}.`),
      line("p", `${trip.categories[one.category] ?? "Trailer"}: ${one.rulebook} says: “${one.why}”${one.asGood.length ? ` As good today: ${one.asGood.map(small).join(", ")}.` : ""}`),
    ]);
    if (!found.length) lines.push(line("h1", "Nothing that is along suits this."));
    const seen = trip.words.band[trip.book.water.bands[askSchools(trip.book).bandOf(asked.visibility_in)]];
    lines.push(line("p", `No signal: this is for ${seen} water, from what this phone keeps of ${trip.water}. Month, temperature and depth are those of that trip.`, "hint"));
    answer.replaceChildren(...lines);
  }

  async function answerHere() {
    const trip = await keptTrip(), data = new FormData(form), category = data.get("category");
    if (!trip) { answer.replaceChildren(line("h1", "No signal."), line("p", "Save a trip on this phone while there is one: then it answers here too.")); return; }
    const listed = category === "any" ? Object.keys(trip.categories) : [category].filter((one) => one in trip.aboard);
    if (Number.isNaN(readInches(data.get("see"), metric))) answer.replaceChildren(line("h1", `“${data.get("see")}” is no visibility.`), line("p", "Write a number such as 48, or with its unit: 4 ft, 120 cm, 1.2 m."));
    else if (!listed.length) answer.replaceChildren(line("h1", "No signal."), line("p", `This phone keeps ${Object.values(trip.categories).join(", ").toLowerCase()} for ${trip.water}: choose one of these.`));
    else show(trip, listed.map((one) => best(trip, one, situation(trip, one, data))).filter(Boolean), situation(trip, listed[0], data));
  }

  for (const trouble of ["htmx:sendError", "htmx:timeout"]) form.addEventListener(trouble, answerHere);
})();
