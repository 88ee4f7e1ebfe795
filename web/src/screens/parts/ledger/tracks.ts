import type { Column } from "./columns";

const GAP = 10;
/** The gutters of a row, left and right. */
const SIDES = 40;

/** The tracks of the ledger's grid and the least width of a row, as style sheet properties: a narrower window scrolls
 *  sideways, and the name stays. */
export function gridTracks(columns: Column[]): Record<string, string> {
  const tracks = columns.map(({ key, width }) => {
    if (key === "name") return `minmax(${width}px, 1fr)`;
    return key === "strip" ? `minmax(90px, ${width}px)` : `${width}px`;
  });
  const least = columns.reduce((sum, { key, width }) => sum + (key === "strip" ? 90 : width), 0);
  return {
    "--tracks": tracks.join(" "),
    "--least": `${least + GAP * (columns.length - 1) + SIDES}px`,
  };
}
