// The crate: dragging a lure to another tray, choosing with the arrow keys while typing, waiting for a file.
(() => {
  let carried = null;

  const tray = (target) => target instanceof Element && target.closest("[data-tray]");

  document.addEventListener("dragstart", (event) => {
    const well = event.target instanceof Element && event.target.closest("[data-lure]");
    if (!well) return;
    carried = well.dataset.lure;
    event.dataTransfer.effectAllowed = "move";
    event.dataTransfer.setData("text/plain", well.dataset.lure);
  });
  document.addEventListener("dragover", (event) => {
    const over = tray(event.target);
    if (!carried || !over) return;
    event.preventDefault();
    for (const other of document.querySelectorAll(".tray-over")) if (other !== over) other.classList.remove("tray-over");
    over.classList.add("tray-over");
  });
  document.addEventListener("dragend", () => { carried = null; document.querySelector(".tray-over")?.classList.remove("tray-over"); });
  document.addEventListener("drop", (event) => {
    const over = tray(event.target);
    if (!carried || !over) return;
    event.preventDefault();
    const before = event.target.closest("[data-lure]");
    const values = { tray: over.dataset.tray };
    if (before && before.dataset.lure !== carried) values.before = before.dataset.lure;
    htmx.ajax("POST", `${over.dataset.moveUrl}${carried}/move/`, { target: "#crate", values });
    carried = null;
  });

  document.addEventListener("keydown", (event) => {
    // Enter begins a new line; with Ctrl or Command it puts in what is ready.
    const typed = event.target instanceof Element && event.target.closest("[data-enter]");
    if (typed && event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      typed.querySelector("#put-in").click();
    } else if (typed && event.key === "Enter" && event.target.matches("input")) {
      event.preventDefault(); // in a row it is done with that field, not with all of them
      event.target.blur();
    }
    // On a compartment that was seen, a number takes an offer, x skips it.
    const seen = event.target instanceof Element && event.target.closest("[data-numbers]");
    if (seen && !event.target.closest("input")) {
      const offer = seen.querySelector(`[data-number="${CSS.escape(event.key)}"]`) || (event.key === "x" && seen.querySelector("[data-skip]"));
      if (offer) { event.preventDefault(); event.stopPropagation(); next(seen); offer.click(); }
    }
  }, true);

  function next(seen) { (seen.nextElementSibling || seen).focus(); }

  document.addEventListener("click", (event) => {
    const skip = event.target instanceof Element && event.target.closest("[data-skip]");
    if (skip) { const seen = skip.closest("li"); next(seen); seen.remove(); }
  });

  // The colours of another category arrive late on a slow line: a colour chosen meanwhile stays chosen.
  let chosen = "";
  document.addEventListener("htmx:beforeSwap", (event) => { if (event.detail.target.id === "id_card") chosen = event.detail.target.value; });
  document.addEventListener("htmx:afterSwap", (event) => {
    const colours = event.detail.target;
    if (colours.id !== "id_card" || colours.value === chosen || ![...colours.options].some((option) => option.value === chosen)) return;
    colours.value = chosen;
    colours.dispatchEvent(new Event("change", { bubbles: true }));
  });

  // A file on its way shows that it is; one dropped on the form goes into its field.
  document.addEventListener("submit", (event) => {
    if (event.target.matches("[data-progress]")) event.target.querySelector("progress").hidden = false;
  });
  document.addEventListener("dragover", (event) => { if (event.target instanceof Element && event.target.closest(".drop")) event.preventDefault(); });
  document.addEventListener("drop", (event) => {
    const form = event.target instanceof Element && event.target.closest(".drop");
    if (!form || !event.dataTransfer.files.length) return;
    event.preventDefault();
    form.querySelector("input[type=file]").files = event.dataTransfer.files;
  });
})();
