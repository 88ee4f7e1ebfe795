import { computed, ref } from "vue";
import type { ApiError, Schemas } from "@/api/client";
import { checkFiles, type Mapping, readLayouts, tryMapping } from "@/api/intake";

const PAUSE = 250; // Milliseconds after a change before it is tried.

/** Files of one layout and how they are to be read. */
export interface LayoutState {
  row: Schemas["LayoutRow"];
  mapping: Mapping;
  tried: Schemas["Tried"] | null;
  /** Whether what was tried last is the mapping as it is now. */
  settled: boolean;
  /** Whether they are read by the mapping at all; exchange tables need none. */
  used: boolean;
}

interface Files {
  incoming: string;
  name: string;
  layouts: LayoutState[];
  unread: string[];
  /** Of which market new niches are that name none; empty where nothing is said. */
  market: string;
}

/** How uploaded files are to be read, until they are checked. */
export function useMappings(
  checked: () => Promise<unknown>,
  /** The selected market: where new niches go that name none, unless another is chosen. */
  market: () => string | undefined,
) {
  const files = ref<Files | null>(null);
  const waiting = new Map<string, number>();
  const needed = computed(() => files.value?.layouts.some((one) => !one.row.table) ?? false);
  /** Whether all that is to be read by a mapping can be. */
  const ready = computed(
    () =>
      files.value?.layouts.every((one) => !one.used || (one.settled && one.tried?.lacks === "")) ??
      false,
  );

  /** Looks through the files. Where all are exchange tables they are checked at once, unless `ask`. */
  async function begin(incoming: string, name: string, ask = false): Promise<void> {
    const { layouts, unread } = await readLayouts(incoming);
    files.value = {
      incoming,
      name,
      unread,
      market: market() ?? "",
      layouts: layouts.map((row) => ({
        row,
        mapping: row.mapping,
        tried: null,
        settled: false,
        used: !row.table,
      })),
    };
    if (!ask && !needed.value) return check();
    await Promise.all(files.value.layouts.map((one) => attempt(one, false)));
  }

  async function attempt(one: LayoutState, afresh: boolean): Promise<void> {
    const at = files.value?.incoming;
    if (!at) return;
    const asked = one.mapping;
    let tried: Schemas["Tried"];
    try {
      tried = await tryMapping(at, one.row.key, asked, afresh);
    } catch (error) {
      if (one.mapping !== asked) return;
      one.settled = true;
      // Said where the reason why it cannot be used stands.
      const lacks = (error as ApiError).message;
      one.tried = { layout: one.row, columns: [], made: [], problems: [], lacks };
      return;
    }
    // A later change is on its way.
    if (one.mapping !== asked) return;
    one.tried = tried;
    one.settled = true;
    if (afresh) one.mapping = tried.layout.mapping;
    const { kept_at, doubts } = one.row;
    one.row = { ...tried.layout, kept_at, doubts: afresh ? tried.layout.doubts : doubts };
  }

  /** Changes a mapping and tries it; of another table or line of names everything is proposed anew. */
  function change(one: LayoutState, part: Partial<Mapping>): void {
    one.mapping = { ...one.mapping, ...part };
    one.used = true;
    one.settled = false;
    const afresh = "table" in part || "head" in part;
    clearTimeout(waiting.get(one.row.key));
    waiting.set(
      one.row.key,
      window.setTimeout(() => void attempt(one, afresh), afresh ? 0 : PAUSE),
    );
  }

  async function check(): Promise<void> {
    const now = files.value;
    if (!now) return;
    const mappings = now.layouts
      .filter((one) => one.used)
      .map((one) => ({ layout: one.row.key, names: one.row.names, mapping: one.mapping }));
    await checkFiles(now.incoming, now.name, mappings, now.market);
    files.value = null;
    await checked();
  }

  return { files, ready, begin, change, check, leave: () => (files.value = null) };
}
