// Shares of one whole on one bar: kinds are pressed in and out, borders are dragged, the arrow keys give more or less.
(() => {
  const STEP = 5, LEAST = 3; // per cent
  const kindsOf = (share) => [...share.querySelectorAll("[data-kind]")].map((kind) => ({ kind, input: kind.querySelector("input"), button: kind.querySelector("button") }));
  const inIt = (share) => kindsOf(share).filter(({ input }) => Number(input.value) > 0);
  const total = (parts) => parts.reduce((sum, { input }) => sum + Number(input.value), 0);

  // Whole per cents that make a hundred.
  function write(parts, values) {
    const whole = values.reduce((sum, value) => sum + value, 0);
    const exact = values.map((value) => value * 100 / whole), down = exact.map(Math.floor);
    const rest = exact.map((value, place) => [value - down[place], place]).sort((a, b) => b[0] - a[0]);
    for (let left = 100 - down.reduce((sum, value) => sum + value, 0), place = 0; left > 0; left--, place++) down[rest[place][1]] += 1;
    parts.forEach(({ input }, place) => { input.value = down[place]; });
  }

  function draw(share) {
    const bar = share.querySelector("[data-bar]"), parts = inIt(share), whole = total(parts);
    bar.replaceChildren();
    parts.forEach(({ kind, input, button }, place) => {
      const per = Math.round(Number(input.value) * 100 / whole), part = document.createElement("span");
      part.className = `share-part share-part-${Number(kind.dataset.kind) % 4}`;
      part.style.flexGrow = input.value;
      part.textContent = per >= 14 ? `${button.dataset.label} ${per} %` : "";
      if (place) { const border = document.createElement("i"); border.className = "share-border"; border.dataset.border = place; bar.append(border); }
      bar.append(part);
    });
    if (!parts.length) bar.textContent = "not known";
    for (const { input, button } of kindsOf(share)) {
      const has = Number(input.value) > 0;
      button.setAttribute("aria-pressed", String(has));
      button.textContent = has ? `${button.dataset.label} ${Math.round(Number(input.value) * 100 / whole)} %` : button.dataset.label;
    }
  }

  // What one kind gets is taken from the others, each by its size.
  function give(share, chosen, per) {
    const parts = inIt(share), others = parts.filter(({ input }) => input !== chosen.input);
    if (!others.length) return;
    const wanted = Math.min(Math.max(per, LEAST), 100 - LEAST * others.length), rest = total(others);
    write([chosen, ...others], [wanted, ...others.map(({ input }) => Number(input.value) * (100 - wanted) / rest)]);
    draw(share);
  }

  function press(share, chosen) {
    if (Number(chosen.input.value) > 0) chosen.input.value = "";
    else { const parts = inIt(share); chosen.input.value = parts.length ? total(parts) / parts.length : 100; }
    const left = inIt(share);
    if (left.length) write(left, left.map(({ input }) => Number(input.value)));
    draw(share);
  }

  const chosenIn = (target) => {
    const share = target instanceof Element && target.closest("[data-share]"), button = share && target.closest("[data-kind] button");
    return button ? [share, kindsOf(share).find((one) => one.button === button)] : [];
  };
  document.addEventListener("click", (event) => { const [share, chosen] = chosenIn(event.target); if (chosen) press(share, chosen); });
  document.addEventListener("keydown", (event) => {
    const by = { ArrowRight: STEP, ArrowUp: STEP, ArrowLeft: -STEP, ArrowDown: -STEP }[event.key];
    const [share, chosen] = by ? chosenIn(event.target) : [];
    if (!chosen || !(Number(chosen.input.value) > 0)) return;
    event.preventDefault();
    give(share, chosen, Number(chosen.input.value) * 100 / total(inIt(share)) + by);
  });

  let held = null;
  document.addEventListener("pointerdown", (event) => {
    const border = event.target instanceof Element && event.target.closest("[data-border]");
    if (!border) return;
    event.preventDefault();
    const bar = border.parentElement;
    held = { bar, share: bar.closest("[data-share]"), at: Number(border.dataset.border) };
    bar.setPointerCapture(event.pointerId);
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const box = held.bar.getBoundingClientRect(), parts = inIt(held.share), whole = total(parts);
    const before = parts.slice(0, held.at - 1).reduce((sum, { input }) => sum + Number(input.value), 0);
    const both = Number(parts[held.at - 1].input.value) + Number(parts[held.at].input.value);
    const least = whole * LEAST / 100, here = (event.clientX - box.left) / box.width * whole - before;
    const values = parts.map(({ input }) => Number(input.value));
    values[held.at - 1] = Math.min(Math.max(here, least), both - least);
    values[held.at] = both - values[held.at - 1];
    write(parts, values);
    draw(held.share);
  });
  for (const type of ["pointerup", "pointercancel"]) document.addEventListener(type, () => { held = null; });

  const drawAll = () => { for (const share of document.querySelectorAll("[data-share]")) draw(share); };
  document.addEventListener("htmx:afterSettle", drawAll);
  drawAll();
})();
