// "I am fishing now": where this phone is goes with it, if it may be asked; without an answer it goes as it is.
document.addEventListener("submit", (event) => {
  const form = event.target.closest("[data-here]"), button = event.submitter, WAIT_MS = 5000;
  if (!form || !navigator.geolocation || !navigator.onLine || form.dataset.here === "asked") return;
  event.preventDefault();
  form.dataset.here = "asked";
  const go = () => form.requestSubmit(button);
  navigator.geolocation.getCurrentPosition(({ coords }) => {
    form.elements.latitude.value = coords.latitude.toFixed(3);
    form.elements.longitude.value = coords.longitude.toFixed(3);
    go();
  }, go, { timeout: WAIT_MS, maximumAge: 600000 });
});
