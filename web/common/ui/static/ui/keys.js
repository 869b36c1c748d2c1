// Keys: g then a letter goes to a step, / finds, ? shows the keys, a adds, q asks, j and k move. Each has a visible control as well.
document.addEventListener("alpine:init", () => {
  Alpine.data("keys", () => ({
    show() { this.$refs.keys.showModal(); },
    hide() { this.$refs.keys.close(); },
  }));
});

(() => {
  let going = false;
  const typing = (target) => target.closest("input:not([data-steps]), select, textarea, [contenteditable]");

  function move(by) {
    const stops = [...document.querySelectorAll("[data-stop]")];
    if (!stops.length) return;
    const here = stops.indexOf(document.activeElement);
    stops[(here + by + stops.length) % stops.length].focus();
  }

  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || !(event.target instanceof Element) || typing(event.target)) return;
    if (document.querySelector("dialog[open]")) return;
    const key = event.key;
    if (going) {
      going = false;
      const link = document.querySelector(`[data-go="${CSS.escape(key)}"]`);
      if (link) { event.preventDefault(); link.click(); }
      return;
    }
    if (key === "g") going = true;
    else if (key === "?") document.querySelector("dialog.keys")?.showModal();
    else if (key === "a") { const add = document.querySelector("[data-add]"); if (add) { event.preventDefault(); add.click(); } }
    else if (key === "/") { const find = document.querySelector("[data-find]"); if (find) { event.preventDefault(); find.focus(); find.select(); } }
    else if (key === "l" || key === "x") document.activeElement?.querySelector(key === "l" ? "[data-lock]" : "[data-drop]")?.click();
    else if (/^[1-9]$/.test(key)) document.querySelector(`[data-size="${key}"]`)?.click();
    else if (key === "r") { const note = document.querySelector("[data-note]"); if (note) { event.preventDefault(); note.focus(); } }
    else if (key === "q") document.querySelector("[data-ask]")?.click();
    else if (key === "j") { event.preventDefault(); move(1); }
    else if (key === "k") { event.preventDefault(); move(-1); }
  });

  // On a phone what is used less is behind one press.
  document.querySelector("[data-more]")?.addEventListener("click", ({ currentTarget: button }) => {
    const open = button.getAttribute("aria-expanded") !== "true";
    button.setAttribute("aria-expanded", String(open));
    button.closest(".rail").classList.toggle("rail-open", open);
    if (open) button.closest("ul").querySelector(".rail-later a").focus();
  });

  // A form that has just been opened takes the focus; so does what a finding leads to.
  document.addEventListener("htmx:afterSettle", (event) => {
    event.detail.elt.querySelector?.("[data-focus]")?.focus();
  });
})();
