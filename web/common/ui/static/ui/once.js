// A key for each press: a second press of the same button, before the first is answered, is the same one to the server.
(() => {
  const fresh = () => crypto.getRandomValues(new Uint32Array(4)).reduce((text, part) => text + part.toString(16).padStart(8, "0"), "");
  const field = (element) => element.closest("form")?.querySelector("input[name=once]");

  document.addEventListener("htmx:configRequest", (event) => {
    const { elt, verb, parameters } = event.detail;
    if (verb === "post" && !parameters.once) parameters.once = elt.dataset.once ??= fresh();
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    const { elt } = event.detail;
    delete elt.dataset.once;
    const kept = field(elt);
    if (kept) kept.value = fresh();
  });
  // A page that the browser brings back is a new one to whoever presses again.
  addEventListener("pageshow", (event) => {
    if (event.persisted) for (const kept of document.querySelectorAll("input[name=once]")) kept.value = fresh();
  });
})();
