// Two lures side by side in a picture of water: drawn from a table that came with the page, between its depths and
// visibilities, as the two scales are moved.
(() => {
  const BANDS = [[0, 0.3], [0.3, 0.7], [0.7, 1]];

  const mixed = (one, other, share) => one.map((part, index) => part + (other[index] - part) * share);

  // The numbers of one list of the table, between four of its places.
  function between(table, down, across) {
    const row = Math.min(Math.floor(down), table.length - 2);
    const column = Math.min(Math.floor(across), table[0].length - 2);
    const [low, high] = [table[row], table[row + 1]]
      .map((line) => mixed(line[column], line[column + 1], across - column));
    return mixed(low, high, down - row);
  }

  function open(root) {
    const told = JSON.parse(root.querySelector("script").textContent), canvas = root.querySelector("canvas");
    const pen = canvas.getContext("2d"), said = root.querySelector(".beside-said");
    const [deep, clear] = root.querySelectorAll("input");
    const [deepSaid, clearSaid] = root.querySelectorAll("output");
    const flat = told.lures.map((row) => row.map((one) => one.flat(2)));
    const nears = told.near.map((row) => row.map((steps) => [steps]));
    const parts = told.lures[0][0][0].length;
    let saying = 0;

    // Where a number lies among marks, on a scale of ratios.
    function place(value, marks) {
      const last = marks.length - 1, at = marks.findIndex((mark) => mark >= value);
      if (at <= 0) return at < 0 ? last : 0;
      return at - 1 + Math.log(value / marks[at - 1]) / Math.log(marks[at] / marks[at - 1]);
    }

    const rgb = (three) => `rgb(${three.map((part) => Math.round(part)).join(" ")})`;

    // One lure: a stick of its bands from the back down, or of its underside alone.
    function stick(top, colours) {
      const tall = 84, left = 70, right = canvas.width - 70, point = 60;
      pen.save();
      pen.beginPath();
      pen.moveTo(left, top);
      pen.lineTo(right - point, top);
      pen.lineTo(right, top + tall / 2);
      pen.lineTo(right - point, top + tall);
      pen.lineTo(left, top + tall);
      pen.closePath();
      pen.clip();
      for (let part = 0; part < parts; part += 1) {
        const [from, to] = parts === 1 ? [0, 1] : BANDS[part];
        pen.fillStyle = rgb(colours.slice(part * 3, part * 3 + 3));
        pen.fillRect(left, top + from * tall, right - left, (to - from) * tall + 1);
      }
      pen.restore();
    }

    const words = (steps) => (steps < 1 ? said.dataset.none : steps <= 3 ? said.dataset.doubt : said.dataset.plain);

    function tell(down, across) {
      const [light, hue] = between(told.apart, down, across), [near] = between(nears, down, across);
      const one = (name, steps) => `${name}: ${words(steps)} (${steps.toFixed(1)} steps)`;
      const closer = `${said.dataset.near}: ${near.toFixed(1)} steps`;
      said.textContent = `${one(said.dataset.light, light)}. ${one(said.dataset.hue, hue)}. ${closer}.`;
    }

    const nearest = (range, list) => list.split("|")[Math.round(Number(range.value))];

    function draw() {
      const down = Number(deep.value), across = Number(clear.value), colours = between(flat, down, across);
      pen.fillStyle = rgb(between(told.behind, down, across));
      pen.fillRect(0, 0, canvas.width, canvas.height);
      stick(44, colours.slice(0, parts * 3));
      stick(172, colours.slice(parts * 3));
      deepSaid.textContent = nearest(deep, deep.dataset.words);
      clearSaid.textContent = nearest(clear, clear.dataset.words);
      deep.setAttribute("aria-valuetext", deepSaid.textContent);
      clear.setAttribute("aria-valuetext", clearSaid.textContent);
    }

    function move() {
      draw();
      clearTimeout(saying); // a reader is told once the scale rests
      saying = setTimeout(() => tell(Number(deep.value), Number(clear.value)), 120);
    }

    deep.value = place(told.at[0], told.depths);
    clear.value = place(told.at[1], told.visibilities);
    for (const range of [deep, clear]) {
      range.addEventListener("input", move);
      range.addEventListener("change", (event) => event.stopPropagation()); // the page around asks anew at each change
    }
    draw();
    tell(Number(deep.value), Number(clear.value));
  }

  const all = (within) => within.querySelectorAll("[data-beside]").forEach(open);
  all(document);
  document.addEventListener("htmx:afterSettle", (event) => all(event.detail.elt));
})();
