// The year's picture: an edge is dragged, or moved with the arrow keys, and kept when it is let go.
(() => {
  const picture = () => document.querySelector("[data-year]");
  let held = null;

  function scale(svg) {
    const top = Number(svg.dataset.top), height = Number(svg.dataset.height);
    const least = Number(svg.dataset.shallowest), span = Math.log(Number(svg.dataset.deepest) / least);
    return {
      inches: (y) => least * Math.exp(span * Math.min(Math.max((y - top) / height, 0), 1)),
      y: (inches) => top + height * Math.min(Math.log(Math.max(inches, least) / least) / span, 1),
    };
  }

  function show(handle, inches) {
    const svg = picture();
    const x = handle.getAttribute("transform").match(/\(([\d.]+)/)[1];
    handle.dataset.inches = String(inches);
    handle.setAttribute("aria-valuenow", inches.toFixed(1));
    handle.setAttribute("aria-valuetext", svg.dataset.units === "metric" ? `${(inches * 2.54).toFixed(0)} cm` : `${inches.toFixed(0)} in`);
    handle.setAttribute("transform", `translate(${x} ${scale(svg).y(inches).toFixed(1)})`);
    redraw(svg);
  }

  function redraw(svg) {
    const at = (edge) => [...svg.querySelectorAll(`[data-edge="${edge}"]`)].map((handle) => handle.getAttribute("transform").match(/[\d.]+/g).join(","));
    const wide = (points) => [`${svg.dataset.left},${points[0].split(",")[1]}`, ...points, `${svg.dataset.right},${points.at(-1).split(",")[1]}`];
    svg.querySelector("[data-outline]").setAttribute("points", [...wide(at("low")), ...wide(at("high")).reverse()].join(" "));
    svg.querySelector("[data-usual]").setAttribute("points", at("usual").join(" "));
  }

  function keep(handle) {
    const inches = Number(handle.dataset.inches);
    const values = { field: handle.dataset.edge, value: `${inches.toFixed(2)} in` };
    htmx.ajax("POST", handle.dataset.url, { source: handle, target: "#water", values });
  }

  document.addEventListener("pointerdown", (event) => {
    const handle = event.target instanceof Element && event.target.closest("[data-edge]");
    if (!handle) return;
    event.preventDefault();
    held = handle;
    handle.focus();
    handle.setPointerCapture(event.pointerId);
  });
  document.addEventListener("pointermove", (event) => {
    if (!held) return;
    const svg = picture();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    show(held, scale(svg).inches(point.y));
  });
  for (const type of ["pointerup", "pointercancel"]) {
    document.addEventListener(type, () => {
      const handle = held;
      held = null;
      if (handle) keep(handle);
    });
  }

  let waiting = 0;
  document.addEventListener("keydown", (event) => {
    const handle = event.target instanceof Element && event.target.closest("[data-edge]");
    const step = { ArrowDown: 1.05, ArrowRight: 1.05, ArrowUp: 1 / 1.05, ArrowLeft: 1 / 1.05, PageDown: 1.3, PageUp: 1 / 1.3 }[event.key];
    if (!handle || !step) return;
    event.preventDefault();
    show(handle, Math.min(Math.max(Number(handle.dataset.inches) * step, 1), 1200));
    clearTimeout(waiting);
    waiting = setTimeout(() => keep(handle), 500);
  });

  // A food that is new to the year starts as some of what is eaten in the months fished.
  document.addEventListener("change", (event) => {
    if (!(event.target instanceof Element) || !event.target.matches("[data-food]") || !event.target.value) return;
    const first = [...document.querySelectorAll("[data-edge='usual']")].find((handle) => document.getElementById(`days-${handle.dataset.month}`)?.value) ?? document.querySelector("[data-edge='usual']");
    htmx.ajax("POST", first.dataset.url, { source: event.target, target: "#water", values: { field: `food:${event.target.value}`, value: "some" } });
  });
})();
