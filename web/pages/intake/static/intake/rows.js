// A row of typed lures is answered while its owner may be typing on in it: what was changed since it was sent stays.
(() => {
  const sent = new WeakMap();
  const fields = (row) => row.querySelectorAll("input:not([type=hidden]), select");
  const what = (field) => (field.type === "checkbox" ? "checked" : "value");
  const row = (element) => (element instanceof Element && element.matches(".typed-row") ? element : null);

  document.addEventListener("htmx:beforeRequest", (event) => {
    const one = row(event.detail.elt);
    if (one) sent.set(one, new Map([...fields(one)].map((field) => [field.name, field[what(field)]])));
  });
  // An answer that was worked out before the lines were changed counts other rows than the page shows.
  document.addEventListener("htmx:oobBeforeSwap", (event) => {
    const { target, fragment } = event.detail;
    if (target.id !== "typed-foot") return;
    const foot = fragment.querySelector("#typed-foot");
    if (Number(foot.dataset.rows) === document.querySelectorAll(".typed-row").length) return;
    event.detail.shouldSwap = false;
    htmx.trigger("#lines", "reread");
  });
  document.addEventListener("htmx:oobBeforeSwap", (event) => {
    const one = row(event.detail.target);
    const then = one && sent.get(one);
    if (!then) return;
    for (const field of fields(one)) {
      if (then.get(field.name) === field[what(field)]) continue;
      const next = event.detail.fragment.querySelector(`[name="${CSS.escape(field.name)}"]`);
      if (!next) continue;
      next[what(field)] = field[what(field)];
      setTimeout(() => next.dispatchEvent(new Event("change", { bubbles: true })));
    }
  });
})();
