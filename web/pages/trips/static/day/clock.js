// The clock of a trip: minutes since the midnight before its first day, where the water is.
window.clockOf = (trip) => {
  const parts = new Intl.DateTimeFormat("en-CA", { timeZone: trip.zone || undefined, hourCycle: "h23", year: "numeric", month: "2-digit", day: "2-digit", hour: "2-digit", minute: "2-digit", second: "2-digit" });
  const day = (date) => Date.parse(`${date}T00:00:00Z`) / 86400000, first = day(trip.date);

  function minuteOf(time) {
    const told = Object.fromEntries(parts.formatToParts(new Date(time)).map(({ type, value }) => [type, value]));
    return (day(`${told.year}-${told.month}-${told.day}`) - first) * 1440 + Number(told.hour) * 60 + Number(told.minute) + Number(told.second) / 60;
  }

  const dayOf = (minute) => Math.floor(minute / 1440);
  // By the reader's clock: 14:05, or 2:05 pm.
  function clock(minute) {
    const hour = Math.floor(minute / 60 + 24000) % 24, left = String(Math.floor((minute % 60 + 60) % 60)).padStart(2, "0");
    return trip.units === "metric" ? `${String(hour).padStart(2, "0")}:${left}` : `${hour % 12 || 12}:${left} ${hour < 12 ? "am" : "pm"}`;
  }
  return { now: () => minuteOf(keptTaps.now()), minuteOf, dayOf, clock };
};
