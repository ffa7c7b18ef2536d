<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { DeskItem } from '#contract/desk/endpoints.ts'
import type { TogetherAct } from '#contract/documents/together.ts'
import DeskLine from '#web/desk/DeskLine.vue'
import { label } from '#web/shared/words.ts'

/** Things of which there is the same to do; foldable, some of them done at once. */
const props = defineProps<{
  act: string
  items: readonly DeskItem[]
  folded: boolean
  at: string
  together: TogetherAct | undefined
}>()
const emit = defineEmits<{ fold: []; together: []; putOff: [keys: string[], until: string] }>()
const WORDS = ['', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten', 'eleven', 'twelve']
const count = computed(() => WORDS[props.items.length] ?? String(props.items.length))
</script>

<template>
  <section class="group" :aria-label="label('desk act', act)">
    <header>
      <h2>
        <ElButton link class="fold" :aria-expanded="!folded" :data-test="`desk-group-${act}`" @click="emit('fold')"
          ><span class="turn" aria-hidden="true">{{ folded ? '▸' : '▾' }}</span
          >{{ label('desk act', act) }} <span class="count">{{ items.length }}</span></ElButton
        >
      </h2>
      <ElButton v-if="together" link :data-test="`desk-together-${act}`" @click="emit('together')"
        >{{ label('desk act', act) }} these {{ count }}
        <kbd class="not-touch">{{ act[0]!.toUpperCase() }}</kbd></ElButton
      >
    </header>
    <ol v-if="!folded">
      <DeskLine
        v-for="item in items"
        :id="`desk-${item.key}`"
        :key="item.key"
        :item="item"
        :at="item.key === at"
        @put-off="emit('putOff', [item.key], $event)"
      />
    </ol>
  </section>
</template>

<style scoped>
.group {
  margin-top: 22px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 18px;
  padding-bottom: 4px;
  border-bottom: 1px solid var(--ink);
}
.fold {
  font: 600 16px var(--serif);
  color: var(--ink);
}
.turn {
  display: inline-block;
  width: 18px;
  font-size: 12px;
  color: var(--ink-quiet);
}
.count {
  font: 500 13px var(--sans);
  color: var(--ink-quiet);
  margin-left: 6px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
</style>
