import { type MaybeRefOrGetter, ref, toValue } from "vue";

/** Bars as a distribution has them: one edge more than bars. */
interface Bars {
  edges: number[];
  counts: number[];
}

export interface UseDraggedRangeReturn {
  /** Whether a bar is held by what is dragged now; null where nothing is. */
  held: (bar: number) => boolean | null;
  begin: (event: PointerEvent) => void;
  move: (event: PointerEvent) => void;
  end: () => void;
}

/** Dragging across bars of one width sets a range from edge to edge; the outermost bars are open to their side. */
export function useDraggedRange(
  bars: MaybeRefOrGetter<Bars | undefined>,
  done: (low: number | null, high: number | null) => void,
): UseDraggedRangeReturn {
  const from = ref<number | null>(null);
  const to = ref<number | null>(null);
  const many = (): number => toValue(bars)?.counts.length ?? 0;

  function place(event: PointerEvent): number {
    const box = (event.currentTarget as Element).getBoundingClientRect();
    const share = (event.clientX - box.left) / box.width;
    return Math.min(many() - 1, Math.max(0, Math.floor(share * many())));
  }
  function ends(): [first: number, last: number] | null {
    if (from.value === null || to.value === null) return null;
    return [Math.min(from.value, to.value), Math.max(from.value, to.value)];
  }
  return {
    held: (bar) => {
      const range = ends();
      return range && bar >= range[0] && bar <= range[1];
    },
    begin: (event) => {
      (event.currentTarget as Element).setPointerCapture(event.pointerId);
      from.value = to.value = place(event);
    },
    move: (event) => {
      if (from.value !== null) to.value = place(event);
    },
    end: () => {
      const range = ends();
      from.value = to.value = null;
      if (!range) return;
      const [first, last] = range;
      const edges = toValue(bars)?.edges ?? [];
      if (first === 0 && last === many() - 1) return;
      done(
        first === 0 ? null : (edges[first] ?? null),
        last === many() - 1 ? null : (edges[last + 1] ?? null),
      );
    },
  };
}
