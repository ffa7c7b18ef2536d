<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { SheetFrame } from '#contract/fields.ts'
import ThreadStrip from '#web/charts/ThreadStrip.vue'
import SheetActs from '#web/frame/SheetActs.vue'
import SheetMargin from '#web/frame/SheetMargin.vue'
import { usePreferences } from '#web/people/preferences.ts'
import { label, words } from '#web/shared/words.ts'

/** The head, thread and Margin that every Sheet has; what is the document's own comes through the slots. */
defineProps<{ sheet: SheetFrame; busy: boolean; stale?: boolean; noMargin?: boolean }>()
const emit = defineEmits<{ act: [action: string]; changed: [] }>()
const preferences = usePreferences()
/** Under a thumb the Margin stands below the Sheet: there is nothing to switch. */
const touch = useMediaQuery('(hover: none), (max-width: 700px)')
const shown = computed(() => touch.value || preferences.get('margin', '') !== false)
const toggleMargin = (): void => preferences.set('margin', '', !shown.value)
</script>

<template>
  <article class="sheet" :class="{ single: noMargin || !shown }">
    <div class="main">
      <p class="kind">
        <slot name="kind"
          ><b>{{ label('kind', sheet.kind) }} {{ sheet.number }}</b></slot
        >
      </p>
      <slot name="title"
        ><h1>{{ sheet.title || sheet.number }}</h1></slot
      >
      <p class="state" :class="`tone-${sheet.tone}`" data-test="state">{{ words(sheet.sentence) }}</p>
      <p v-if="stale" class="reasons note">
        Somebody changed this while you were typing. Your text is kept;
        <ElButton link @click="emit('changed')">look at the new state</ElButton>.
      </p>
      <SheetActs :sheet="sheet" :busy="busy" @act="emit('act', $event)"
        ><template #acts><slot name="acts" /></template
        ><template #after
          ><ElButton v-if="!noMargin && !touch" link class="margin-toggle" @click="toggleMargin">{{
            shown ? 'hide margin' : 'show margin'
          }}</ElButton></template
        ></SheetActs
      >
      <slot name="notice" />
      <ThreadStrip v-if="sheet.thread" :thread="sheet.thread" :current="sheet.number" />
      <slot />
    </div>
    <SheetMargin v-if="!noMargin && shown" :sheet="sheet" @changed="emit('changed')"
      ><slot name="margin"
    /></SheetMargin>
  </article>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 270px;
  min-height: 100%;
  background: var(--sheet);
}
.sheet.single {
  grid-template-columns: minmax(0, 1fr);
}
.main {
  padding: 18px 26px 40px 28px;
  min-width: 0;
}
.kind {
  color: var(--ink-quiet);
  font-size: 12px;
  margin-bottom: 3px;
}
.kind :deep(b) {
  color: var(--ink);
  font-weight: 600;
}
.state {
  font-size: 14px;
  max-width: 620px;
  margin-top: 4px;
}
.state.tone-attention,
.state.tone-stop {
  font-weight: 600;
}
.margin-toggle {
  margin-left: auto;
  font-size: 11.5px;
  color: var(--ink-quiet);
}
@media (max-width: 1000px) {
  .sheet {
    grid-template-columns: minmax(0, 1fr);
  }
}
@media (max-width: 700px) {
  .main {
    padding: 14px 16px 30px;
  }
}
</style>
