<script setup lang="ts">
import { Copy, Download, Maximize2, Minimize2 } from '@lucide/vue'
import { ElButton, ElInput } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { TOGETHER } from '#contract/documents/together.ts'
import type { ListRow } from '#contract/fields.ts'
import type { defineList } from '#contract/lists/list.ts'
import { orderBy, writeOrders } from '#core/lists/conditions.ts'
import { api, pathOf } from '#web/api.ts'
import ColumnChooser from '#web/lists/ColumnChooser.vue'
import CompactRows from '#web/lists/CompactRows.vue'
import FilterSentence from '#web/lists/FilterSentence.vue'
import GroupChooser from '#web/lists/GroupChooser.vue'
import { listColumns } from '#web/lists/listColumns.ts'
import { useAsked } from '#web/lists/useAsked.ts'
import { useGroups } from '#web/lists/useGroups.ts'
import { useListRows } from '#web/lists/useListRows.ts'
import TogetherBar from '#web/lists/TogetherBar.vue'
import ViewMenu from '#web/lists/ViewMenu.vue'
import { usePreferences } from '#web/people/preferences.ts'
import { sayInPassing } from '#web/shared/message.ts'
import { toggled } from '#web/shared/toggled.ts'
import DataTable from '#web/shared/table/DataTable.vue'
import MenuPopover from '#web/shared/MenuPopover.vue'
import ToolButton from '#web/shared/ToolButton.vue'
import { useSearchText } from '#web/shared/useSearchText.ts'
import { useShortcuts } from '#web/shared/useShortcuts.ts'
import { amountText, label, viewLabel } from '#web/shared/words.ts'

/** A list at the left of a Sheet, or over the full width as a table. Its view, filter, search, order and groups stand in the address. */
const props = defineProps<{
  list: ReturnType<typeof defineList>
  name: string
  selected: string | undefined
  wide: boolean
  choosing?: boolean
  /** The kind of its documents, where several can be acted on at once. */
  together?: keyof typeof TOGETHER | undefined
  /** It is always a table: there is nothing to make room for. */
  fixed?: boolean
}>()
const emit = defineEmits<{ choose: [ids: string[]]; widen: []; shown: [rows: ListRow[]] }>()
const route = useRoute()
const router = useRouter()
const preferences = usePreferences()
const asked = useAsked(props.list)
const { text: search, sought } = useSearchText(80)
const wanted = computed(() => ({ ...asked.asked.value, q: sought.value || undefined }))
const { page, rows, failure, stale, loading, reload, more } = useListRows(props.list, wanted)
const chosen = ref<ReadonlySet<string>>(new Set())
const compact = ref<{ show: (index: number) => void }>()
const table = ref<{ copy: () => Promise<void> }>()
const columns = computed(() => (page.value ? listColumns(page.value) : []))
const groups = useGroups({
  list: props.list,
  asked: asked.asked,
  page,
  rows,
  wanted: () => props.wide && page.value !== undefined,
  narrow: where => asked.set({ where, group: undefined }),
})
const totals = computed(() => {
  const sums = groups.totals.value
  if (!sums) return undefined
  const count = groups.count.value ?? 0
  const said = `${amountText(String(count))} ${count === 1 ? 'row' : 'rows'}${sums.has('amount') ? `, sums in ${groups.currency.value}` : ''}`
  return new Map([['', said], ...sums])
})
watch(rows, some => emit('shown', some), { immediate: true })

function choose(ids: ReadonlySet<string>): void {
  chosen.value = ids
  emit('choose', [...ids])
}
async function chooseAll(): Promise<void> {
  if (chosen.value.size > 0) return choose(new Set())
  const { group: _, ...query } = asked.asked.value
  const { ids, more: beyond } = await api(props.list.ids, { query })
  choose(new Set(ids))
  if (beyond) sayInPassing(`The first ${ids.length} are chosen: more at once is not done.`)
}
/** What was chosen and is not in the list any more is let go of. */
watch(rows, some => {
  if (page.value?.next !== null || asked.asked.value.group) return
  const here = new Set(some.map(row => row.id))
  const kept = [...chosen.value].filter(id => here.has(id))
  if (kept.length !== chosen.value.size) choose(new Set(kept))
})
const toggle = (id: string): void => choose(toggled(chosen.value, id))

const open = (row: ListRow): void => void router.push({ path: row.path, query: route.query })
function step(by: number): void {
  const index = rows.value.findIndex(row => row.id === props.selected)
  const row = rows.value[Math.max(0, Math.min(rows.value.length - 1, index + by))]
  if (!row) return
  open(row)
  compact.value?.show(rows.value.indexOf(row))
}
const walk = (by: number) => (event: KeyboardEvent) => {
  event.preventDefault()
  step(by)
}
useShortcuts({
  j: walk(1),
  k: walk(-1),
  ArrowDown: walk(1),
  ArrowUp: walk(-1),
  Enter: event => {
    if (event.target === document.body && props.selected === undefined && rows.value[0]) open(rows.value[0])
  },
})
const orderWith = (key: string, beside: boolean): void =>
  asked.set({ sort: writeOrders(orderBy(page.value?.orders ?? [], key, beside)) || undefined })
function exportPath(format: 'csv' | 'xlsx'): string {
  const seen = asked.looks.value.filter(look => !look.hidden).map(look => look.key)
  const query = { ...asked.asked.value, ...(props.wide && seen.length > 0 ? { columns: seen.join(',') } : {}) }
  return pathOf(props.list.export, { format }, query)
}
function clear(): void {
  search.value = ''
  asked.set({ q: undefined, where: undefined, state: undefined, view: 'all', saved: undefined })
}
const hides = computed(() =>
  page.value?.hidden ? `; hides ${page.value.countIsFloor ? 'more' : page.value.hidden}` : '',
)
defineExpose({ reload })
</script>

<template>
  <section class="list-pane" :class="{ wide }" :aria-label="viewLabel(name, page?.view ?? '')">
    <header>
      <div class="tools">
        <ViewMenu :name="name" :list="list.name" :page="page" :asked="asked" />
        <ElInput
          v-model="search"
          class="search"
          type="search"
          placeholder="Search this list"
          :aria-label="`Search ${viewLabel(name, page?.view ?? 'all')}`"
          data-test="list-search"
        />
        <span class="signs">
          <template v-if="wide && page"
            ><GroupChooser
              :page="page"
              :group="asked.asked.value.group"
              @group="asked.set({ group: $event })" /><ColumnChooser
              :columns="columns"
              :looks="asked.looks.value"
              @looks="asked.look($event)" /><ToolButton
              v-if="choosing || together"
              :icon="Copy"
              name="Copy as a table"
              data-test="copy-table"
              @click="table?.copy()"
          /></template>
          <MenuPopover :width="210" placement="bottom-end"
            ><template #button><ToolButton :icon="Download" name="Export what is shown" data-test="export" /></template>
            <p class="quiet">Exactly what is shown:</p>
            <p class="bar files">
              <a :href="exportPath('xlsx')" download>XLSX</a><a :href="exportPath('csv')" download>CSV</a>
            </p></MenuPopover
          >
          <ToolButton
            v-if="!fixed"
            :icon="wide ? Minimize2 : Maximize2"
            :name="wide ? 'Beside a Sheet' : 'Over the full width'"
            data-test="widen"
            @click="emit('widen')"
          />
        </span>
      </div>
      <div class="counts">
        <span v-if="page"
          >{{ page.shown >= 300 ? 'more than 300' : page.shown }} shown<template v-if="asked.asked.value.state"
            >, only {{ label('state', asked.asked.value.state) }}</template
          >{{ hides }}</span
        >
        <FilterSentence v-if="page?.asks.length" :list="list" :page="page" @change="asked.set({ where: $event })" />
        <TogetherBar
          v-if="together && wide && rows.length"
          :kind="together"
          :chosen="chosen"
          @clear="choose(new Set())"
          @done="choose(new Set())"
        />
        <span v-if="stale" class="stale"
          >Something changed. <ElButton link @click="reload">Show it anew</ElButton></span
        >
      </div>
      <slot name="acts" :chosen="chosen" />
    </header>
    <p v-if="failure" class="reasons">
      The list could not be loaded. <ElButton link @click="reload">Try again</ElButton>
    </p>
    <div v-else-if="page && rows.length === 0" class="empty">
      <slot name="empty"
        >Nothing here.
        <template v-if="asked.asked.value.q || asked.asked.value.state || asked.asked.value.where || page.hidden"
          >The filter hides the rest: <ElButton link @click="clear">show all</ElButton>.</template
        ></slot
      >
    </div>
    <DataTable
      v-if="wide && rows.length > 0"
      ref="table"
      :name="viewLabel(name, page?.view ?? '')"
      :columns="columns"
      :looks="asked.looks.value"
      :items="groups.items.value"
      :totals="totals"
      :orders="page?.orders ?? []"
      :choosing="choosing || together !== undefined"
      :chosen="chosen"
      :selected="selected"
      :busy="loading"
      :density="preferences.get('density', '') ?? 'calm'"
      @looks="asked.look($event)"
      @order="orderWith"
      @open="open"
      @fold="groups.fold($event)"
      @choose="choose"
      @choose-all="chooseAll"
      @end="more"
    />
    <CompactRows
      v-else-if="!wide"
      ref="compact"
      :rows="rows"
      :selected="selected"
      :choosing="choosing ?? false"
      :chosen="chosen"
      @open="open"
      @toggle="toggle"
      @end="more"
    />
  </section>
</template>

<style scoped>
.list-pane {
  display: flex;
  flex-direction: column;
  height: 100%;
  background: var(--page);
  min-width: 0;
}
header {
  padding: 12px 16px 10px;
  border-bottom: 1px solid var(--rule);
}
.wide header {
  border-bottom: 0;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
}
.search {
  flex: 1 1 150px;
  max-width: 420px;
}
section:not(.wide) .tools > :first-child {
  flex-basis: 100%;
}
.wide .search {
  flex: 0 1 280px;
}
.signs {
  display: flex;
  align-items: center;
  margin-left: auto;
}
.wide .signs {
  margin-left: 0;
}
.files {
  gap: 18px;
  padding: 4px 0;
}
.counts {
  font-size: 12px;
  color: var(--ink-quiet);
  margin-top: 5px;
  display: flex;
  align-items: baseline;
  gap: 4px 8px;
  flex-wrap: wrap;
}
.stale {
  color: var(--brass);
}
</style>
