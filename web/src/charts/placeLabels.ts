/** A mark that may carry a label: its middle, its radius, and how wide the label is. */
export interface Labelled {
  x: number;
  y: number;
  radius: number;
  width: number;
}

/** Where a label begins, and whether it ends or begins there. */
export interface Place {
  x: number;
  y: number;
  anchor: "start" | "end" | "middle";
}

interface Box {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

const GAP = 3;

const meet = (a: Box, b: Box): boolean =>
  a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;

/**
 * Places labels beside their marks so that none lies on another label, on a mark, or outside; the first marks choose
 * first. A label for which there is no room is left out.
 */
export function placeLabels(
  marks: Labelled[],
  height: number,
  room: { width: number; height: number },
): (Place | null)[] {
  const taken: Box[] = marks.map(({ x, y, radius }) => ({
    left: x - radius,
    right: x + radius,
    top: y - radius,
    bottom: y + radius,
  }));
  return marks.map(({ x, y, radius, width }) => {
    const beside = radius + GAP;
    const places: [Place, Box][] = [
      [
        { x: x + beside, y: y + height / 3, anchor: "start" },
        {
          left: x + beside,
          right: x + beside + width,
          top: y - height / 2,
          bottom: y + height / 2,
        },
      ],
      [
        { x: x - beside, y: y + height / 3, anchor: "end" },
        {
          left: x - beside - width,
          right: x - beside,
          top: y - height / 2,
          bottom: y + height / 2,
        },
      ],
      [
        { x, y: y - beside - height / 4, anchor: "middle" },
        { left: x - width / 2, right: x + width / 2, top: y - beside - height, bottom: y - beside },
      ],
      [
        { x, y: y + beside + (height * 3) / 4, anchor: "middle" },
        { left: x - width / 2, right: x + width / 2, top: y + beside, bottom: y + beside + height },
      ],
    ];
    const found = places.find(
      ([, box]) =>
        box.left >= 0 &&
        box.top >= 0 &&
        box.right <= room.width &&
        box.bottom <= room.height &&
        !taken.some((one) => meet(one, box)),
    );
    if (!found) return null;
    taken.push(found[1]);
    return found[0];
  });
}
