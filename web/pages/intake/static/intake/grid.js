// The grid over a picture: four corners to drag, or to move with the arrow keys; a press can mark something white.
(() => {
  function start(canvas) {
    const wide = Number(canvas.dataset.width), tall = Number(canvas.dataset.height);
    const pen = canvas.getContext("2d");
    const picture = new Image();
    const rows = document.getElementById("grid-rows"), columns = document.getElementById("grid-columns");
    const field = document.getElementById("grid-field"), said = document.getElementById("grid-said");
    const corners = JSON.parse(canvas.dataset.corners) || [[0.08, 0.1], [0.92, 0.1], [0.92, 0.9], [0.08, 0.9]].map(([x, y]) => [x * wide, y * tall]);
    const loose = () => document.querySelector("input[name=lie]:checked").value === "loose";
    const press = () => document.querySelector("input[name=press]:checked").value;
    let white = null, picks = [], chosen = 0, dragging = false;
    canvas.width = wide; canvas.height = tall;

    const count = (input) => Math.min(20, Math.max(1, parseInt(input.value, 10) || 1));

    // The point at shares (u, v) of the grid, through the plane's homography from the unit square (Heckbert 1989).
    function mapped() {
      const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = corners;
      const dx1 = x1 - x2, dx2 = x3 - x2, sx = x0 - x1 + x2 - x3, dy1 = y1 - y2, dy2 = y3 - y2, sy = y0 - y1 + y2 - y3;
      const below = dx1 * dy2 - dx2 * dy1 || 1e-9;
      const g = (sx * dy2 - dx2 * sy) / below, h = (dx1 * sy - sx * dy1) / below;
      const a = x1 - x0 + g * x1, b = x3 - x0 + h * x3, d = y1 - y0 + g * y1, e = y3 - y0 + h * y3;
      return (u, v) => { const w = g * u + h * v + 1; return [(a * u + b * v + x0) / w, (d * u + e * v + y0) / w]; };
    }

    function line(from, to) { pen.beginPath(); pen.moveTo(...from); pen.lineTo(...to); pen.stroke(); }

    function draw() {
      const at = mapped(), r = count(rows), c = count(columns), unit = Math.max(wide, tall) / 300;
      pen.drawImage(picture, 0, 0, wide, tall);
      document.getElementById("grid-size").hidden = loose();
      if (loose()) drawLoose(unit); else drawGrid(at, r, c, unit);
      if (white) { pen.lineWidth = unit * 1.4; pen.strokeStyle = "#c2371f"; pen.strokeRect(white[0] - unit * 4, white[1] - unit * 4, unit * 8, unit * 8); }
      picks.forEach(([x, y], place) => {
        pen.beginPath(); pen.arc(x, y, unit * 2.4, 0, 7); pen.lineWidth = unit * 1.2; pen.strokeStyle = "#fbfdfc"; pen.stroke();
        pen.fillStyle = "#fbfdfc"; pen.font = `700 ${unit * 6}px sans-serif`; pen.fillText(["back", "side", "belly"][place], x + unit * 12, y + unit * 2);
      });
      field.value = JSON.stringify({ corners, rows: r, columns: c, white, loose: loose(), picks: press() === "pick" ? picks : [] });
    }

    function number(text, x, y, unit) {
      pen.font = `700 ${unit * 5}px sans-serif`; pen.textAlign = "left"; pen.lineWidth = unit; pen.strokeStyle = "#16262c"; pen.fillStyle = "#fbfdfc";
      pen.strokeText(text, x, y); pen.fillText(text, x, y);
    }

    // What was found lying loose: the boxes that the list below shows.
    function drawLoose(unit) {
      for (const crop of document.querySelectorAll("#seen [data-place] .crop")) {
        const box = crop.viewBox.baseVal;
        pen.lineWidth = unit; pen.strokeStyle = "#f2b632"; pen.strokeRect(box.x, box.y, box.width, box.height);
        number(crop.closest("[data-place]").dataset.place, box.x + unit * 2, box.y + unit * 6, unit);
      }
    }

    function drawGrid(at, r, c, unit) {
      for (const [width, colour] of [[unit * 1.6, "#16262c"], [unit * 0.8, "#f2b632"]]) {
        pen.lineWidth = width; pen.strokeStyle = colour;
        for (let row = 0; row <= r; row++) line(at(0, row / r), at(1, row / r));
        for (let column = 0; column <= c; column++) line(at(column / c, 0), at(column / c, 1));
      }
      corners.forEach(([x, y], place) => {
        pen.beginPath(); pen.arc(x, y, unit * 5, 0, 7); pen.fillStyle = place === chosen ? "#f2b632" : "#fbfdfc"; pen.fill();
        pen.lineWidth = unit; pen.strokeStyle = "#16262c"; pen.stroke();
        pen.fillStyle = "#16262c"; pen.font = `700 ${unit * 6}px sans-serif`; pen.textAlign = "center"; pen.fillText(String(place + 1), x, y + unit * 2);
      });
      for (let row = 0; row < r; row++) for (let column = 0; column < c; column++) {
        const [x, y] = at(column / c, row / r);
        number(String(row * c + column + 1), x + unit * 4, y + unit * 7, unit);
      }
    }

    const place = (event) => { const box = canvas.getBoundingClientRect(); return [(event.clientX - box.left) * wide / box.width, (event.clientY - box.top) * tall / box.height]; };
    const tell = () => { said.textContent = `Corner ${chosen + 1} of 4. Tab goes to the next, arrows move it; Shift moves further.`; };

    canvas.addEventListener("pointerdown", (event) => {
      const at = place(event);
      if (press() === "white") { white = at; document.querySelector("input[name=press][value=corner]").checked = true; draw(); return; }
      if (press() === "pick") { picks = picks.length === 3 ? [at] : [...picks, at]; draw(); return; }
      const far = corners.map(([x, y]) => Math.hypot(x - at[0], y - at[1]));
      chosen = far.indexOf(Math.min(...far)); dragging = true;
      canvas.setPointerCapture(event.pointerId); corners[chosen] = at; tell(); draw();
    });
    canvas.addEventListener("pointermove", (event) => { if (dragging) { corners[chosen] = place(event); draw(); } });
    canvas.addEventListener("pointerup", () => { dragging = false; });
    canvas.addEventListener("keydown", (event) => {
      const by = event.shiftKey ? 20 : 2;
      const moves = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] };
      if (moves[event.key]) { event.preventDefault(); corners[chosen][0] += moves[event.key][0]; corners[chosen][1] += moves[event.key][1]; draw(); }
      else if (event.key === "Tab" && !event.shiftKey && chosen < 3) { event.preventDefault(); chosen += 1; tell(); draw(); }
      else if (event.key === "Tab" && event.shiftKey && chosen > 0) { event.preventDefault(); chosen -= 1; tell(); draw(); }
    });
    document.addEventListener("htmx:afterSettle", (event) => { if (event.detail.target.closest("#seen")) draw(); });
    for (const input of document.querySelectorAll("input[name=press], input[name=lie]")) input.addEventListener("change", draw);
    for (const input of [rows, columns]) input.addEventListener("input", draw);
    picture.addEventListener("load", draw);
    picture.src = canvas.dataset.picture;
    draw();
  }
  const canvas = document.getElementById("grid");
  if (canvas) start(canvas);
})();
