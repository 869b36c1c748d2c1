// What takes longer than a blink says that it is at work.
(() => {
  let waiting = 0, timer = 0;
  const sign = () => document.getElementById("busy");
  const quiet = (event) => event.detail.elt.matches("[data-quiet]"); // what a page looks up by itself says nothing
  document.addEventListener("htmx:beforeSend", (event) => {
    if (quiet(event)) return;
    waiting += 1;
    if (waiting === 1) timer = setTimeout(() => { sign().hidden = false; }, 400);
  });
  document.addEventListener("htmx:afterRequest", (event) => {
    if (quiet(event)) return;
    waiting = Math.max(0, waiting - 1);
    if (waiting === 0) { clearTimeout(timer); sign().hidden = true; }
  });
})();
