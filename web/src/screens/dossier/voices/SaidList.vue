<script setup lang="ts">
import { computed } from "vue";
import { formatDay } from "@/format/values";
import type { Said } from "./useThemes";

/** Sentences as buyers wrote them, the words of their theme marked; each can be pinned to the niche's note. */
const props = defineProps<{ sentences: Said[]; busy?: boolean }>();
defineEmits<{ pin: [one: Said]; unpin: [key: number] }>();

const KINDS: Record<Said["kind"], string> = {
  review: "review",
  return: "note on a return",
  comment: "comment",
  question: "question",
};

/** A sentence cut where its marked words begin and end. */
function parts(one: Said): { text: string; marked: boolean }[] {
  const cut: { text: string; marked: boolean }[] = [];
  let at = 0;
  for (const [begin = 0, end = 0] of one.marks) {
    if (begin > at) cut.push({ text: one.said.slice(at, begin), marked: false });
    cut.push({ text: one.said.slice(begin, end), marked: true });
    at = end;
  }
  if (at < one.said.length) cut.push({ text: one.said.slice(at), marked: false });
  return cut;
}
const lines = computed(() =>
  props.sentences.map((one) => ({
    one,
    parts: parts(one),
    about: [
      KINDS[one.kind],
      one.rating === null ? "" : `rated ${one.rating}`,
      one.day === null ? "" : formatDay(one.day),
      one.title ?? "",
    ]
      .filter(Boolean)
      .join(" · "),
  })),
);
</script>

<template>
  <ul class="said">
    <li v-for="(line, at) in lines" :key="`${line.one.voice_id} ${at}`">
      <q class="serif"
        ><template v-for="(part, i) in line.parts" :key="i"
          ><mark v-if="part.marked">{{ part.text }}</mark
          ><template v-else>{{ part.text }}</template></template
        ></q
      ><span class="small about">{{ line.about }}</span
      ><v-btn
        v-if="line.one.pinned === null"
        class="small"
        :disabled="busy"
        data-tip="Keep this sentence with the note of the niche; it stands in the brief"
        @click="$emit('pin', line.one)"
        >Pin</v-btn
      ><v-btn v-else class="small" :disabled="busy" @click="$emit('unpin', line.one.pinned)"
        >Unpin</v-btn
      >
    </li>
  </ul>
</template>

<style scoped>
.said {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  padding: 3px 0;
  border-top: 1px solid var(--rule);
}

li:first-child {
  border-top: 0;
}

q {
  font-size: 14px;
  overflow-wrap: anywhere;
}

mark {
  background: none;
  color: inherit;
  border-bottom: 2px solid var(--ochre);
}

.about {
  margin: 0 10px;
}
</style>
