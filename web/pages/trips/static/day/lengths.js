// A length as it is typed, in inches: a bare number is in the reader's own unit, under three of a metric one metres. NaN
// where that is no visibility.
window.readInches = (text, metric) => {
  const TO_INCHES = { in: 1, inches: 1, ft: 12, feet: 12, cm: 1 / 2.54, m: 100 / 2.54 }, LEAST_IN = 0.5, MOST_IN = 1200;
  const [, number, unit] = /^(\d+(?:[.,]\d+)?)\s*(in|inches|ft|feet|cm|m)?$/.exec(text.trim().toLowerCase()) ?? [];
  const value = Number((number ?? "").replace(",", "."));
  const inches = value * TO_INCHES[unit ?? (metric ? (value < 3 ? "m" : "cm") : "in")];
  return number && inches >= LEAST_IN && inches <= MOST_IN ? inches : NaN;
};
