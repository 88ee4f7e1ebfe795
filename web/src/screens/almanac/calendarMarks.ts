import type { Almanac } from "@/api/almanac";
import type { Axis } from "@/screens/parts/calendarAxis";

/** Feasts so near one another share a label; a letter of it takes about so many pixels. */
const NEAR = 0.03;
const LETTER = 5.6;

/** Moving feasts, their labels before their lines where they would reach the next one in a track of that width. */
export function movingFeasts(almanac: Almanac, axis: Axis, width: number) {
  const found: { names: string[]; days: string[]; at: number; before: boolean }[] = [];
  for (const feast of almanac.feasts.filter((one) => one.moving)) {
    const at = axis.at(feast.day);
    const last = found.at(-1);
    if (last && at - last.at < NEAR) {
      last.names.push(feast.name);
      last.days.push(feast.day);
    } else found.push({ names: [feast.name], days: [feast.day], at, before: false });
  }
  found.forEach((one, i) => {
    const long = (one.names.join(" · ").length * LETTER) / (width || 1000);
    one.before = one.at + long > (found[i + 1]?.at ?? 1);
  });
  return found;
}
