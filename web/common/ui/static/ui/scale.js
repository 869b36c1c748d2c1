// The clarity slider and the number beside it are one value: moving either sets the other.
(() => {
  const parts = () => [document.querySelector("[data-scale]"), document.querySelector("[data-scale-text]")];
  const numberOf = (words) => parseFloat(words.replace(",", "."));

  document.addEventListener("input", (event) => {
    const [slider, text] = parts();
    if (!slider) return;
    const stops = slider.dataset.stops.split("|");
    if (event.target === slider) {
      text.value = stops[Number(slider.value)];
      slider.setAttribute("aria-valuetext", text.value);
    } else if (event.target === text && /^\s*[\d.,]+\s*(in|cm)?\s*$/.test(text.value)) {
      const apart = stops.map((stop) => Math.abs(Math.log(numberOf(stop) / numberOf(text.value))));
      slider.value = String(apart.indexOf(Math.min(...apart)));
    }
  }, true);
})();
