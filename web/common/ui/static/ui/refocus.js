// After a swap the focus goes back to the same control, or to what took its place. Esc closes what is open.
(() => {
  const STOPS = "a[href], button, input:not([type=hidden]), select, textarea, summary, [tabindex]:not([tabindex='-1'])";
  const stops = (inside) => [...inside.querySelectorAll(STOPS)].filter((one) => !one.disabled && one.getClientRects().length);
  // What a control is, whatever state it shows.
  const sign = (one) => ["hx-post", "hx-get", "href", "name", "value", "hx-vals", "formaction"].map((name) => one.getAttribute(name) ?? "").join("|");
  const label = (one) => one.getAttribute("aria-label") ?? one.textContent.trim().slice(0, 80);
  let left = null;

  document.addEventListener("htmx:beforeSwap", (event) => {
    const target = event.detail.target, had = document.activeElement;
    left = null;
    if (!(had instanceof Element) || had === document.body || !target.contains(had)) return;
    const form = had.closest("form"), pressed = event.detail.requestConfig?.triggeringEvent;
    // A button that was only passed by says something of the next change in its form: such a one is not gone back to.
    const passed = had.matches("button[name]") && !(pressed?.submitter === had || had.contains(pressed?.target));
    left = { passed, id: had.id, sign: sign(had), label: label(had), form: form && sign(form), at: stops(target).indexOf(had), target: target.id };
  });

  document.addEventListener("htmx:afterSettle", () => {
    if (!left || (document.activeElement && document.activeElement !== document.body)) return;
    const { passed, id, sign: was, label: said, form, at, target } = left;
    left = null;
    const inside = document.getElementById(target) ?? document.querySelector("main");
    const all = stops(inside).filter((one) => !passed || !one.matches("button[name]")), like = all.filter((one) => sign(one) === was && ((one.closest("form") && sign(one.closest("form"))) ?? null) === form);
    const found = (id && document.getElementById(id)) || like.find((one) => label(one) === said) || like[0] || all[Math.min(Math.max(at, 0), all.length - 1)];
    if (found) found.focus({ preventScroll: found.getBoundingClientRect().top > 0 && found.getBoundingClientRect().bottom < innerHeight });
    else { inside.tabIndex = -1; inside.focus(); }
  });

  document.addEventListener("keydown", (event) => {
    if (event.key !== "Escape" || !(event.target instanceof Element)) return;
    const open = event.target.closest("details[open]");
    if (open) { open.open = false; open.querySelector("summary").focus(); return; }
    const form = event.target.closest("#form-place, #lure-form");
    form?.querySelector("[data-leave], button.is-quiet")?.click();
  });
})();
