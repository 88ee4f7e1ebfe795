import { useLocalStorage } from "@vueuse/core";
import { computed, type ComputedRef } from "vue";
import type { FigureRow } from "@/api/client";
import { NICHES } from "@/api/client";
import type { KindWords } from "@/state/useKind";
import { addable, type Column, columnOf, COLUMNS, columnsFor, NARROWEST } from "./columns";

const KEY = "driftfield.columns";
/** Those of niches were kept before there were other kinds. */
const keyOf = (kind: KindWords): string => (kind.of === NICHES ? KEY : `${KEY}.${kind.of}`);

interface Chosen {
  /** Keys of the columns that are shown, in their order. */
  keys: string[];
  /** Widths that were set by hand. */
  widths: Record<string, number>;
}

export interface UseColumnsReturn {
  columns: ComputedRef<Column[]>;
  /** Keys of figures that rows must carry besides the ledger's own. */
  figures: ComputedRef<string[]>;
  toggle: (key: string) => void;
  /** Moves a shown column some places on. */
  move: (key: string, by: number) => void;
  resize: (key: string, width: number) => void;
  reset: () => void;
  changed: ComputedRef<boolean>;
}

/** What was chosen here before; nothing where that was by another version. */
function read(text: string): Chosen | undefined {
  try {
    const found = JSON.parse(text) as Chosen;
    if (Array.isArray(found.keys) && typeof found.widths === "object") return found;
  } catch {
    // Not written by this version.
  }
  return undefined;
}

/** Which columns the ledger shows, in what order and how wide; remembered in this browser. */
export function useColumns(
  kind: KindWords,
  shown: Column[],
  registry: ComputedRef<FigureRow[]>,
): UseColumnsReturn {
  const usual = (): Chosen => ({ keys: shown.map((column) => column.key), widths: {} });
  const chosen = useLocalStorage(keyOf(kind), usual(), {
    serializer: { read: (text) => read(text) ?? usual(), write: JSON.stringify },
  });

  const known = computed(() => {
    // The ledger’s own come last and hold, with their headings and widths.
    const all = [...addable(kind, registry.value).map(columnOf), ...columnsFor(shown)];
    return new Map(all.map((column) => [column.key, column]));
  });
  const columns = computed(() =>
    chosen.value.keys
      .map((key) => known.value.get(key))
      .filter((column) => column !== undefined)
      .map((column) => ({ ...column, width: chosen.value.widths[column.key] ?? column.width })),
  );

  function move(key: string, by: number): void {
    const keys = [...chosen.value.keys];
    const from = keys.indexOf(key);
    const to = from + by;
    // The decision stays first, so that hands find it.
    if (from < 1 || to < 1 || to >= keys.length) return;
    keys.splice(to, 0, ...keys.splice(from, 1));
    chosen.value = { ...chosen.value, keys };
  }

  return {
    columns,
    figures: computed(() =>
      columns.value
        .filter((column) => !COLUMNS.some((own) => own.key === column.key))
        .map((column) => column.key),
    ),
    toggle: (key) => {
      const { keys } = chosen.value;
      const has = keys.includes(key);
      chosen.value = {
        ...chosen.value,
        keys: has ? keys.filter((one) => one !== key) : [...keys, key],
      };
    },
    move,
    resize: (key, width) => {
      const widths = { ...chosen.value.widths, [key]: Math.max(NARROWEST, Math.round(width)) };
      chosen.value = { ...chosen.value, widths };
    },
    reset: () => (chosen.value = usual()),
    changed: computed(() => JSON.stringify(chosen.value) !== JSON.stringify(usual())),
  };
}
