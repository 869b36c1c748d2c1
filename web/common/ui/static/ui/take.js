// A picture is taken along as a file: a drawing of this page, or one from the server, as SVG or PNG.
(() => {
  const LOOKS = ["fill", "fill-opacity", "stroke", "stroke-width", "stroke-dasharray", "stroke-linecap", "opacity", "font-size", "font-weight", "font-family", "text-anchor", "display", "clip-path"];
  const SCALE = 2; // pixels of a PNG for each of the drawing's
  const KEPT = /^(xmlns|viewBox|width|height|x|y|x1|x2|y1|y2|cx|cy|r|rx|ry|d|dx|dy|points|transform|id|clip-path|role|aria-label)$/;

  // A copy that looks the same without the page's styles.
  function alone(drawing) {
    const copy = drawing.cloneNode(true), theirs = [drawing, ...drawing.querySelectorAll("*")];
    [copy, ...copy.querySelectorAll("*")].forEach((part, place) => {
      const look = getComputedStyle(theirs[place]);
      for (const { name } of [...part.attributes]) if (!KEPT.test(name)) part.removeAttribute(name);
      if (theirs[place].closest("defs")) return;
      for (const name of LOOKS) { const value = look.getPropertyValue(name); if (value && value !== "none" || name === "fill") part.setAttribute(name, value.replace(/url\("?[^#]*#/, "url(#").replace(/"\)/, ")")); }
    });
    const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect"), box = drawing.viewBox.baseVal;
    for (const [name, value] of Object.entries({ x: box.x, y: box.y, width: box.width, height: box.height, fill: getComputedStyle(document.querySelector(".sheet") || document.body).backgroundColor })) ground.setAttribute(name, value);
    copy.prepend(ground);
    copy.setAttribute("width", box.width);
    copy.setAttribute("height", box.height);
    return copy;
  }

  async function drawn(from) {
    if (!from.startsWith("/")) return alone(document.querySelector(from));
    const answer = await fetch(from);
    if (!answer.ok) throw new Error("The picture did not come.");
    return new DOMParser().parseFromString(await answer.text(), "image/svg+xml").documentElement;
  }

  function save(blob, name) {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(blob);
    link.download = name;
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 1000);
  }

  async function painted(svg, width, height) {
    const picture = new Image(), address = URL.createObjectURL(svg);
    picture.src = address;
    await picture.decode();
    const canvas = document.createElement("canvas");
    canvas.width = width * SCALE;
    canvas.height = height * SCALE;
    canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
    URL.revokeObjectURL(address);
    return new Promise((done) => canvas.toBlob(done, "image/png"));
  }

  document.addEventListener("click", async (event) => {
    const button = event.target instanceof Element && event.target.closest("[data-take]");
    if (!button) return;
    const { take, from, as } = button.dataset, picture = await drawn(from);
    picture.setAttribute("xmlns", "http://www.w3.org/2000/svg");
    const svg = new Blob([new XMLSerializer().serializeToString(picture)], { type: "image/svg+xml" });
    save(take === "svg" ? svg : await painted(svg, Number(picture.getAttribute("width")), Number(picture.getAttribute("height"))), `${as}.${take}`);
  });
})();
