// A white lure on its line, sinking in a picture of water. The colours at each depth came with the page.
(() => {
  const root = document.querySelector("[data-sinking]");
  if (!root) return;
  const fades = JSON.parse(document.getElementById("fades").textContent), canvas = root.querySelector("canvas"), range = root.querySelector("[name=down]"), said = document.getElementById("down-said");
  const pen = canvas.getContext("2d"), TOP = 36, wide = canvas.width, tall = canvas.height - TOP;
  const parts = (hex) => [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16));

  // The colour at a depth between two that were told.
  function at(down, which) {
    const place = Math.min(down * (fades.length - 1), fades.length - 1), low = Math.floor(place), high = Math.min(low + 1, fades.length - 1), share = place - low;
    const [one, other] = [parts(fades[low][which]), parts(fades[high][which])];
    return `rgb(${one.map((part, index) => Math.round(part + (other[index] - part) * share)).join(" ")})`;
  }

  function draw() {
    const down = Number(range.value), y = TOP + down * (tall - 40) + 6, style = getComputedStyle(document.documentElement);
    pen.fillStyle = style.getPropertyValue("--scene-sky") || "#d9e6ea";
    pen.fillRect(0, 0, wide, TOP);
    const water = pen.createLinearGradient(0, TOP, 0, TOP + tall);
    for (const [depth, colour] of fades) water.addColorStop(depth, colour);
    pen.fillStyle = water;
    pen.fillRect(0, TOP, wide, tall);
    pen.fillStyle = at(down, 2);
    pen.beginPath();
    pen.roundRect(wide / 2 - 44, y, 88, 24, 10);
    pen.fill();
  }

  function move() {
    draw();
    const down = Number(range.value);
    said.textContent = down === 0 ? "At the surface: plain to see." : `${Math.round(down * 100)} hundredths of the way down the picture.`;
  }

  range.addEventListener("input", move);
  const drag = (event) => { const box = canvas.getBoundingClientRect(); range.value = Math.min(Math.max(((event.clientY - box.top) / box.height * canvas.height - TOP) / (tall - 40), 0), 1); move(); };
  canvas.addEventListener("pointerdown", (event) => { canvas.setPointerCapture(event.pointerId); drag(event); });
  canvas.addEventListener("pointermove", (event) => { if (event.buttons) drag(event); });
  root.addEventListener("htmx:afterSwap", () => {
    if (!root.querySelector(".depth-true")) return;
    root.querySelector("form button").hidden = true;
    range.disabled = true;
    const again = root.querySelector("[data-again]");
    if (again) { again.href = location.pathname + location.search; again.focus(); }
  });
  draw();
})();
