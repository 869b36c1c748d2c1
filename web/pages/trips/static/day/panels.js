// The panels of the screen on the water: choices that open under a press, drawn from what came with the page.
window.panelsOf = (trip, telling) => {
  const $ = (id) => document.getElementById(id);
  const TOLD = ["light", "wind", "stain", "cover", "density", "pace", "mood", "current", "tide"];
  const metric = trip.units === "metric", LEAST_IN = 4, MOST_IN = 200;
  const length = (inches) => (metric ? `${Math.round(inches * 2.54)} cm` : `${Math.round(inches)} in`);
  const UNIT = metric ? 2.54 : 1; // so many of the reader's own to an inch
  // The stops of the slider: whole numbers, each once, further apart the clearer it is.
  const stops = [...new Set(Array.from({ length: 101 }, (_, share) => Math.round(UNIT * LEAST_IN * (MOST_IN / LEAST_IN) ** (share / 100))))];
  const nearest = (inches) => stops.reduce((best, stop, place) => (Math.abs(stop - inches * UNIT) < Math.abs(stops[best] - inches * UNIT) ? place : best), 0);
  const bandOf = (inches) => trip.book.water.edges.filter((edge) => inches >= edge).length;

  function stick(into, card) {
    const drawn = card && document.querySelector(`template[data-stick="${CSS.escape(card)}"]`);
    into.replaceChildren(...(drawn ? [drawn.content.cloneNode(true)] : []));
  }

  function press(words, data) {
    const button = document.createElement("button");
    button.type = "button"; button.textContent = words;
    Object.assign(button.dataset, data);
    return button;
  }

  // Whether it was moved by a hand or a meter: where it stands by itself it is an estimate.
  let moved = false;
  const wasTaped = () => moved;
  function tape(inches, byHand = false) {
    moved = byHand;
    $("tape").value = nearest(inches);
    $("tape-said").textContent = `${length(inches)}, ${trip.words.band[trip.book.water.bands[bandOf(inches)]]}`;
    $("tape").setAttribute("aria-valuetext", $("tape-said").textContent);
  }
  const taped = () => stops[Number($("tape").value)] / UNIT;

  // What was typed as measured, in inches; null where nothing is.
  const typed = () => ($("seen").value.trim() ? readInches($("seen").value, metric) : null);

  function open(which, inches) {
    for (const panel of document.querySelectorAll(".panel")) panel.hidden = panel.id !== `panel-${which}` || !panel.hidden;
    const panel = $(`panel-${which}`);
    if (which === "water") { tape(inches); $("seen").value = ""; $("meter-said").textContent = ""; }
    if (panel && !panel.hidden) { panel.scrollIntoView({ block: "nearest" }); panel.querySelector("button, input, select")?.focus({ preventScroll: true }); }
  }

  // The lures to choose from by hand: what is packed in its order, then what else lies aboard, and where.
  function lures(now, kinds, along) {
    const rows = now.order.map((one) => [one.category, one.card, one.failed ? `failed ${one.failed === 1 ? "once" : `${one.failed} times`} here` : one.tried ? "had a turn here" : ""]);
    for (const category of kinds) for (const card of along[category] ?? []) {
      if (!rows.some(([kind, one]) => kind === category && one === card)) rows.push([category, card, `not packed, in ${trip.where[`${category} ${card}`] ?? "the boat"}`]);
    }
    $("aboard").replaceChildren(...kinds.flatMap((category) => {
      const title = document.createElement("h2");
      title.textContent = trip.categories[category];
      return [title, ...rows.filter(([kind]) => kind === category).map(([, card, words]) => lure(category, card, words, { throw: card, category }))];
    }));
  }

  function lure(category, card, words, data) {
    const button = press("", data), drawn = document.createElement("span"), said = document.createElement("b"), beside = document.createElement("small");
    stick(drawn, card); said.textContent = telling.name(card); beside.textContent = words;
    said.append(document.createElement("br"), beside);
    button.append(drawn, said);
    return button;
  }

  function trailers(category, jig, listed, now) {
    $("trailers").replaceChildren(...listed.map((card) => lure(category, card, card === now ? "on it now" : "", { throw: jig, category, trailer: card })));
  }

  function rods(angler, rod) {
    $("whose").textContent = `${angler ? "Partner’s rod" : "Your rod"} · ${trip.categories[rod].toLowerCase()}`;
    for (const button of document.querySelectorAll("[data-angler]")) button.setAttribute("aria-pressed", String(Number(button.dataset.angler) === angler));
    for (const button of document.querySelectorAll("[data-rod]")) button.setAttribute("aria-pressed", String(button.dataset.rod === rod));
  }

  function pressed(now) {
    for (const button of document.querySelectorAll("[data-of]")) button.setAttribute("aria-pressed", String((now[button.dataset.of] ?? null) === button.dataset.value));
  }

  // The lengths that a fish may have, around the last one told; one press notes it.
  function sizes(last) {
    const step = metric ? 5 : 2, middle = Math.max(Math.round((last ?? 14) * (metric ? 2.54 : 1) / step), 3);
    $("sizes").replaceChildren(...[-2, -1, 0, 1, 2].map((off) => press(`${(middle + off) * step} ${metric ? "cm" : "in"}`, { size: Math.round((middle + off) * step / (metric ? 2.54 : 1) * 10) / 10 })));
  }

  function make() {
    for (const kind of TOLD) document.querySelector(`[data-choose=${kind}]`).append(...Object.entries(trip.words[kind]).map(([value, words]) => press(words, { of: kind, value })));
    for (const [where, foods] of [["food", trip.foods], ["more-food", trip.more_foods]]) document.querySelector(`[data-choose=${where}]`).append(...foods.map((food) => press(trip.words.food[food], { of: "food", value: food })));
    $("rods").append(...Object.entries(trip.categories).map(([category, words]) => press(words, { rod: category })));
    for (const which of ["test-first", "test-second"]) for (const category of Object.keys(trip.categories)) for (const card of trip.aboard[category]) {
      const option = new Option(`${telling.name(card)}, ${trip.categories[category].toLowerCase()}`, card);
      option.dataset.category = category;
      $(which).append(option);
    }
    $("test-second").selectedIndex = 1;
    $("tape").max = stops.length - 1;
    const { bands } = trip.book.water;
    $("tape-bands").append(...bands.map((band) => {
      const part = document.createElement("span"), share = stops.filter((stop) => bandOf(stop / UNIT) === bands.indexOf(band)).length;
      part.className = `band-${band}`; part.textContent = trip.words.band[band];
      part.style.flex = `${Math.max(share / stops.length, 0.08)} 1 0`;
      return part;
    }));
    $("tape").addEventListener("input", () => tape(taped(), true));
  }

  return { make, open, lures, trailers, rods, pressed, sizes, stick, tape, taped, typed, wasTaped, length, bandOf, TOLD };
};
