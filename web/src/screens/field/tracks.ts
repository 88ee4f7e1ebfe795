import type { Column } from "./columns";

/** Widths as a grid's tracks: those that may go in a narrow window go by container queries. */
function tracks(columns: Column[]): string {
  return columns
    .map(({ key, width }) => {
      if (key === "name") return `minmax(${width}px, 1fr)`;
      return key === "strip" ? `minmax(90px, ${width}px)` : `${width}px`;
    })
    .join(" ");
}
/** The tracks of the ledger's grid in a wide, a narrower and a narrow window, as style sheet properties. */
export const gridTracks = (columns: Column[]): Record<string, string> => ({
  "--all": tracks(columns),
  "--fewer": tracks(columns.filter((one) => !one.spare)),
  "--least": tracks(columns.filter((one) => !one.spare && !one.wide)),
});
