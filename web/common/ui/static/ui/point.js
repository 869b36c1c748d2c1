// Pointing at a thing lights up what it concerns: a stick of the set its days, a finding its lures.
(() => {
  function light(source, on) {
    const names = source.dataset.points.split(" ");
    for (const target of document.querySelectorAll("[data-name]")) {
      const hit = target.dataset.name.split(" ").some((name) => names.includes(name));
      target.classList.toggle(target.dataset.lit, on && hit);
    }
    for (const board of document.querySelectorAll(".board")) board.classList.toggle("board-dim", on);
  }
  for (const [type, on] of [["mouseover", true], ["mouseout", false], ["focusin", true], ["focusout", false]]) {
    document.addEventListener(type, (event) => {
      const source = event.target instanceof Element && event.target.closest("[data-points]");
      if (source) light(source, on);
    });
  }
  document.addEventListener("click", (event) => {
    const source = event.target instanceof Element && event.target.closest("[data-leads]");
    if (!source) return;
    const target = document.getElementById(source.dataset.leads);
    if (target) { target.scrollIntoView({ block: "center" }); target.querySelector("button, input")?.focus(); }
  });
})();
