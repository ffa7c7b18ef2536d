<script setup lang="ts">
import { Pane, Splitpanes } from 'splitpanes'
import 'splitpanes/dist/splitpanes.css'
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { GlanceStage } from '#contract/glances/endpoints.ts'
import type { ListRow } from '#contract/fields.ts'
import type { defineList } from '#contract/lists/list.ts'
import type { TOGETHER } from '#contract/documents/together.ts'
import GlancePane from '#web/glances/GlancePane.vue'
import ListPane from '#web/lists/ListPane.vue'
import { usePreferences } from '#web/people/preferences.ts'
import { useShortcuts } from '#web/shared/useShortcuts.ts'

/** A stage: its list at the left, the chosen Sheet at the right, a splitter that remembers its place; on a phone one of the two. */
const props = defineProps<{
  stage: GlanceStage
  list: ReturnType<typeof defineList>
  name: string
  choosing?: boolean
  home?: string
  /** The kind of its documents, where several can be acted on at once. */
  together?: keyof typeof TOGETHER
}>()
const emit = defineEmits<{ choose: [ids: string[]]; shown: [rows: ListRow[]] }>()
const route = useRoute()
const router = useRouter()
const preferences = usePreferences()
const size = computed(() => preferences.get('split', props.stage) ?? 28)
const wide = computed(() => preferences.get('wide', props.stage) ?? false)
const phone = useMediaQuery('(max-width: 700px)')
const selected = computed(() => (typeof route.params.id === 'string' ? route.params.id : undefined))
const hasSheet = computed(() => (selected.value !== undefined || route.meta.sheet === true) && route.meta.list !== true)
const homePath = computed(() => props.home ?? `/${props.stage}`)
const back = (): void => void router.push({ path: homePath.value, query: route.query })

function resized(event: { panes?: { size: number }[] } | { size: number }[]): void {
  const first = (Array.isArray(event) ? event : event.panes)?.[0]
  if (first && !(wide.value && !hasSheet.value))
    preferences.set('split', props.stage, Math.min(90, Math.max(10, Math.round(first.size))))
}
function widen(): void {
  preferences.set('wide', props.stage, !wide.value)
  if (wide.value && hasSheet.value) back()
}
useShortcuts({
  Escape: () => {
    if (hasSheet.value) back()
  },
})
</script>

<template>
  <div v-if="phone" class="stage phone">
    <template v-if="hasSheet"
      ><RouterLink class="back" :to="{ path: homePath, query: route.query }">← back to the list</RouterLink><slot
    /></template>
    <ListPane
      v-else
      :list="list"
      :name="name"
      :selected="selected"
      :wide="false"
      :choosing="choosing ?? false"
      @choose="emit('choose', $event)"
      @shown="emit('shown', $event)"
      ><template #acts><slot name="acts" /></template><template #empty><slot name="list-empty" /></template
    ></ListPane>
  </div>
  <Splitpanes v-else class="stage" @resized="resized">
    <Pane :size="wide && !hasSheet ? 100 : size" :min-size="18">
      <ListPane
        :list="list"
        :name="name"
        :selected="selected"
        :wide="wide && !hasSheet"
        :choosing="choosing ?? false"
        :together="together"
        @choose="emit('choose', $event)"
        @shown="emit('shown', $event)"
        @widen="widen"
        ><template #acts><slot name="acts" /></template
        ><template v-if="$slots['list-empty']" #empty><slot name="list-empty" /></template
      ></ListPane>
    </Pane>
    <Pane v-if="!(wide && !hasSheet)" :size="100 - size" :min-size="30"
      ><div class="sheet-side">
        <slot v-if="hasSheet" /><slot v-else name="nothing"><GlancePane :stage="stage" /></slot></div
    ></Pane>
  </Splitpanes>
</template>

<style scoped>
.stage {
  flex: 1;
  min-height: 0;
}
.stage.phone {
  overflow: auto;
  background: var(--sheet);
}
.sheet-side {
  height: 100%;
  background: var(--sheet);
  overflow: auto;
}
.back {
  display: block;
  padding: 10px 16px 0;
}
</style>
