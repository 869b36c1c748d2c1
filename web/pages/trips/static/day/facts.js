// What was told of water and sky, and how long it holds: `tackle.day.facts`, to the letter. `told`: [{ at, data }],
// `hours`: the forecast's [{ hour, light, wind }], `tide`: by hour which way it runs; minutes since the first midnight.
window.factsOf = ({ hours, tide }) => {
  const DAY = 1440, SKY_HOLDS = 180, SKY = ["light", "wind"], SHORT = [...SKY, "tide"], OF_SPOT = ["visibility_in", "stain", "cover", "density", "depth_ft", "current"];
  const hourAt = (minute) => hours.findLast((one) => one.hour * 60 <= minute) ?? hours[0] ?? {};
  const changed = (name, since, minute) => hours.some((one) => since < one.hour * 60 && one.hour * 60 <= minute && (one[name] ?? null) !== (hourAt(since)[name] ?? null));
  const dayOf = (minute) => Math.floor(minute / DAY);

  // What is known of a minute, each with when it was told; what the forecast says was told never.
  function factsAt(told, minute) {
    const known = {};
    for (const name of SKY) if (hourAt(minute)[name]) known[name] = { value: hourAt(minute)[name] };
    if (tide[Math.floor(minute / 60)]) known.tide = { value: tide[Math.floor(minute / 60)] };
    const earlier = told.filter((one) => one.at <= minute && dayOf(one.at) === dayOf(minute)).sort((one, other) => one.at - other.at);
    let spot = null, moved = -Infinity;
    for (const { at, data } of earlier) if (data.spot && data.spot !== spot) { moved = spot === null ? moved : at; spot = data.spot; }
    for (const { at, data } of earlier) for (const [name, value] of Object.entries(data)) {
      if (value == null || (SHORT.includes(name) && (minute - at >= SKY_HOLDS || changed(name, at, minute)))) continue;
      if (!OF_SPOT.includes(name) || at >= moved) known[name] = { value, at };
    }
    const bySun = hourAt(minute).light;
    if (bySun && [bySun, known.light.value].includes("night")) known.light = { value: bySun };
    return known;
  }

  // The minutes between two at which what is known may become another, in order.
  function turningPoints(told, begins, ends) {
    const days = Array.from({ length: dayOf(ends) - dayOf(begins) + 1 }, (_, place) => (dayOf(begins) + place) * DAY);
    const flows = Object.keys(tide).flatMap((hour) => [Number(hour) * 60, (Number(hour) + 1) * 60]);
    const points = [...hours.map((one) => one.hour * 60), ...flows, ...days, ...told.flatMap(({ at }) => [at, at + SKY_HOLDS])];
    return [...new Set(points)].filter((at) => begins < at && at < ends).sort((one, other) => one - other);
  }

  return { factsAt, turningPoints, hourAt };
};
