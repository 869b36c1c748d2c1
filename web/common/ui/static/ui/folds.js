// What was unfolded stays unfolded when its page is drawn again: details by their data-fold.
(() => {
  const open = new Set();

  document.addEventListener("toggle", ({ target }) => {
    if (!target.dataset?.fold) return;
    if (target.open) open.add(target.dataset.fold);
    else if (target.isConnected) open.delete(target.dataset.fold);
  }, true);

  document.addEventListener("htmx:afterSwap", () => {
    for (const fold of document.querySelectorAll("details[data-fold]")) if (open.has(fold.dataset.fold)) fold.open = true;
  });
})();
