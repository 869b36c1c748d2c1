// The map on which a water's place is pointed at: it fills the fields for latitude and longitude, which stay the truth.
(() => {
  const WORLD = { width: 3600, height: 1400 }, PER_DEGREE = 10, CLOSEST = 32, TOP_LATITUDE = 66;
  const STEPS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
  const latitude = () => document.getElementById("id_latitude");
  const longitude = () => document.getElementById("id_longitude");
  const zone = () => document.getElementById("id_time_zone");
  const clamp = (value, edge) => Math.max(-edge, Math.min(edge, value));

  /** Where the fields say that it lies, in units of the map, or null. */
  function told() {
    const [north, east] = [latitude(), longitude()].map((field) => (field.value.trim() ? Number(field.value) : NaN));
    return Number.isFinite(north) && Number.isFinite(east) ? { x: east * PER_DEGREE, y: -north * PER_DEGREE } : null;
  }

  function draw(map) {
    const svg = map.querySelector("svg"), pin = svg.querySelector(".map-pin"), at = told();
    const closer = Number(map.dataset.closer || 1), centre = at || { x: 0, y: 0 };
    const width = WORLD.width / closer, height = WORLD.height / closer;
    const left = closer === 1 ? -WORLD.width / 2 : centre.x - width / 2;
    const top = closer === 1 ? -WORLD.height / 2 : centre.y - height / 2;
    svg.setAttribute("viewBox", `${left} ${top} ${width} ${height}`);
    pin.toggleAttribute("hidden", !at);
    if (at) pin.setAttribute("transform", `translate(${at.x} ${at.y}) scale(${3 / closer})`);
  }

  function tell(map, x, y) {
    const digits = Number(map.dataset.closer || 1) > 4 ? 2 : 1;
    latitude().value = clamp(-y / PER_DEGREE, TOP_LATITUDE).toFixed(digits);
    longitude().value = clamp(x / PER_DEGREE, 180).toFixed(digits);
    draw(map);
    longitude().dispatchEvent(new Event("change", { bubbles: true }));
  }

  function begin() {
    for (const map of document.querySelectorAll("[data-map]:not([data-drawn])")) {
      map.dataset.drawn = "yes";
      map.querySelector("[data-where]").hidden = !navigator.geolocation;
      draw(map);
      for (const field of [latitude(), longitude()]) field.addEventListener("input", () => draw(map));
    }
  }

  document.addEventListener("click", (event) => {
    const map = event.target.closest?.("[data-map]");
    const svg = event.target.closest?.(".map-field");
    if (svg) {
      const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
      tell(map, at.x, at.y);
    } else if (event.target.dataset?.zoom) {
      const closer = Number(map.dataset.closer || 1) * (event.target.dataset.zoom === "in" ? 4 : 0.25);
      map.dataset.closer = String(Math.max(1, Math.min(CLOSEST, closer)));
      draw(map);
    } else if (event.target.matches?.("[data-where]")) {
      navigator.geolocation.getCurrentPosition(({ coords }) => {
        map.dataset.closer = "16";
        tell(map, coords.longitude * PER_DEGREE, -coords.latitude * PER_DEGREE);
      });
    } else if (event.target.dataset?.zoneIs) {
      zone().value = event.target.dataset.zoneIs;
    }
  });
  document.addEventListener("keydown", (event) => {
    const svg = event.target.closest?.(".map-field"), step = STEPS[event.key];
    if (!svg || !step) return;
    event.preventDefault();
    const map = svg.closest("[data-map]"), at = told() || { x: 0, y: 0 }, far = 50 / Number(map.dataset.closer || 1);
    tell(map, at.x + step[0] * far, at.y + step[1] * far);
  });
  document.addEventListener("htmx:configRequest", (event) => {
    if (event.detail.elt.matches("[data-zones]")) {
      event.detail.parameters.home = Intl.DateTimeFormat().resolvedOptions().timeZone || "";
    }
  });
  document.addEventListener("htmx:afterSwap", (event) => {
    begin();
    const first = event.target.matches?.("[data-zones]") && event.target.querySelector("[data-zone-is]");
    if (first && !zone().value) zone().value = first.dataset.zoneIs;
  });
  begin();
})();
