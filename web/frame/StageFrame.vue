<script setup lang="ts">
import { Pane, Splitpanes } from 'splitpanes'
import 'splitpanes/dist/splitpanes.css'
import { computed, onMounted, onUnmounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ListRow } from '#contract/fields.ts'
import type { defineList } from '#contract/lists/list.ts'
import ListPane from '#web/lists/ListPane.vue'

/** A stage: its list at the left, the chosen Sheet at the right, a splitter that remembers its place; on a phone one of the two. */
const props = defineProps<{
  stage: string
  list: ReturnType<typeof defineList>
  name: string
  choosing?: boolean
  home?: string
}>()
const emit = defineEmits<{ choose: [ids: string[]]; shown: [rows: ListRow[]] }>()
const route = useRoute()
const router = useRouter()
const kept = Number(localStorage.getItem(`split ${props.stage}`) ?? '28')
const size = ref(kept > 12 && kept < 70 ? kept : 28)
const wide = ref(localStorage.getItem(`wide ${props.stage}`) === '1')
const phone = ref(matchMedia('(max-width: 700px)').matches)
const media = matchMedia('(max-width: 700px)')
const selected = computed(() => (typeof route.params.id === 'string' ? route.params.id : undefined))
const hasSheet = computed(() => (selected.value !== undefined || route.meta.sheet === true) && route.meta.list !== true)
const homePath = computed(() => props.home ?? `/${props.stage}`)

function resized(event: { panes?: { size: number }[] } | { size: number }[]): void {
  const first = (Array.isArray(event) ? event : event.panes)?.[0]
  if (first) localStorage.setItem(`split ${props.stage}`, String(Math.round(first.size)))
}
function widen(): void {
  wide.value = !wide.value
  localStorage.setItem(`wide ${props.stage}`, wide.value ? '1' : '0')
  if (wide.value && hasSheet.value) void router.push({ path: homePath.value, query: route.query })
}
function key(event: KeyboardEvent): void {
  const target = event.target as HTMLElement
  if (
    event.key === 'Escape' &&
    hasSheet.value &&
    !['INPUT', 'TEXTAREA'].includes(target.tagName) &&
    !document.querySelector('.el-overlay:not([style*="display: none"]) .el-dialog')
  )
    void router.push({ path: homePath.value, query: route.query })
}
const changed = (event: MediaQueryListEvent): void => {
  phone.value = event.matches
}
onMounted(() => {
  addEventListener('keydown', key)
  media.addEventListener('change', changed)
})
onUnmounted(() => {
  removeEventListener('keydown', key)
  media.removeEventListener('change', changed)
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
        @choose="emit('choose', $event)"
        @shown="emit('shown', $event)"
        @widen="widen"
        ><template #acts><slot name="acts" /></template
        ><template v-if="$slots['list-empty']" #empty><slot name="list-empty" /></template
      ></ListPane>
    </Pane>
    <Pane v-if="!(wide && !hasSheet)" :size="100 - size" :min-size="30"
      ><div class="sheet-side">
        <slot v-if="hasSheet" /><slot v-else name="nothing"
          ><div class="empty big">
            <h2>Nothing is open</h2>
            <p>Choose something in the list, with the mouse or with j and k.</p>
          </div></slot
        >
      </div></Pane
    >
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
.big {
  padding: 60px 40px;
}
</style>
