<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { ElButton, ElCheckbox, ElPopover } from 'element-plus'
import { computed, onMounted, onUnmounted, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { defineList } from '#contract/lists/list.ts'
import type { ListPage, ListRow } from '#contract/fields.ts'
import { orderBy, writeOrders } from '#core/lists/conditions.ts'
import { api, pathOf } from '#web/api.ts'
import FilterSentence from '#web/lists/FilterSentence.vue'
import { kindTopic, useNews } from '#web/news/news.ts'
import { useSearchText } from '#web/shared/useSearchText.ts'
import { amountText, day, label, viewLabel, words } from '#web/shared/words.ts'

/** A list at the left of a Sheet, or over the full width with columns. Its view, filter, search and order stand in the address. */
const props = defineProps<{
  list: ReturnType<typeof defineList>
  name: string
  selected: string | undefined
  wide: boolean
  choosing?: boolean
}>()
const emit = defineEmits<{ choose: [ids: string[]]; widen: []; shown: [rows: ListRow[]] }>()
const route = useRoute()
const router = useRouter()
const page = shallowRef<ListPage>()
const rows = shallowRef<ListRow[]>([])
const failed = ref(false)
const chosen = ref(new Set<string>())
const scroller = ref<HTMLElement>()
const { text: search } = useSearchText(200)
const hiddenColumns = ref(
  new Set<string>(JSON.parse(localStorage.getItem(`columns ${props.name}`) ?? '[]') as string[]),
)
let loading = false
let request = new AbortController()

const query = computed(() => ({
  view: text(route.query.view),
  q: text(route.query.q),
  sort: text(route.query.sort),
  state: text(route.query.state),
  where: text(route.query.where),
}))
const text = (value: unknown): string | undefined => (typeof value === 'string' && value !== '' ? value : undefined)

async function load(more = false): Promise<void> {
  if (more && (loading || !page.value?.next)) return
  loading = true
  request.abort()
  const { signal } = (request = new AbortController())
  try {
    const answer = await api(props.list.page, {
      query: { ...query.value, after: more ? page.value!.next! : undefined, limit: 80 } as never,
      signal,
    })
    if (signal.aborted) return
    rows.value = more ? [...rows.value, ...answer.rows] : answer.rows
    page.value = answer
    failed.value = false
    emit('shown', rows.value)
  } catch {
    if (!signal.aborted) failed.value = true
  } finally {
    loading = false
  }
}

watch([query, () => props.list], () => void load(), { immediate: true })
useNews(
  () => props.list.kinds.map(kindTopic),
  () => void load(),
)

const set = (change: Record<string, string | undefined>): void =>
  void router.replace({ path: route.path, query: { ...route.query, ...change } })

const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => scroller.value ?? null,
    estimateSize: () => (props.wide ? 32 : 57),
    overscan: 12,
  })),
)
const visible = computed(() => virtual.value.getVirtualItems())
watch(visible, items => {
  if ((items.at(-1)?.index ?? 0) >= rows.value.length - 15) void load(true)
})
watch(
  () => props.wide,
  () => virtual.value.measure(),
)

/** Which way a column is ordered. */
function turned(key: string): 'ascending' | 'descending' | 'none' {
  const order = page.value?.orders.find(one => one.column === key)
  return order ? (order.descending ? 'descending' : 'ascending') : 'none'
}
const ORDERED = { ascending: '↑', descending: '↓', none: '' } as const
const orderWith = (key: string, event: MouseEvent): void =>
  set({ sort: writeOrders(orderBy(page.value?.orders ?? [], key, event.shiftKey)) || undefined })

const shownColumns = computed(() => (page.value?.columns ?? []).filter(column => !hiddenColumns.value.has(column.key)))
function toggleColumn(key: string): void {
  const next = new Set(hiddenColumns.value)
  if (!next.delete(key)) next.add(key)
  hiddenColumns.value = next
  localStorage.setItem(`columns ${props.name}`, JSON.stringify([...next]))
}

const open = (row: ListRow): void => void router.push({ path: row.path, query: route.query })
function toggle(id: string): void {
  const next = new Set(chosen.value)
  if (!next.delete(id)) next.add(id)
  chosen.value = next
  emit('choose', [...next])
}
watch(rows, list => {
  const here = new Set(list.map(row => row.id))
  const kept = [...chosen.value].filter(id => here.has(id))
  if (kept.length !== chosen.value.size) {
    chosen.value = new Set(kept)
    emit('choose', kept)
  }
})

function key(event: KeyboardEvent): void {
  const target = event.target as HTMLElement
  if (
    ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName) ||
    event.ctrlKey ||
    event.altKey ||
    event.metaKey ||
    document.querySelector('.el-overlay:not([style*="display: none"]) .el-dialog')
  )
    return
  const index = rows.value.findIndex(row => row.id === props.selected)
  const step = { j: 1, ArrowDown: 1, k: -1, ArrowUp: -1 }[event.key]
  if (step !== undefined) {
    const row = rows.value[Math.max(0, Math.min(rows.value.length - 1, index + step))]
    if (row) {
      open(row)
      virtual.value.scrollToIndex(rows.value.indexOf(row))
      event.preventDefault()
    }
  } else if (event.key === 'Enter' && index < 0 && rows.value[0] && target.tagName === 'BODY') open(rows.value[0])
}
onMounted(() => addEventListener('keydown', key))
onUnmounted(() => {
  removeEventListener('keydown', key)
  request.abort()
})

const cell = (key: string, value: string): string =>
  key === 'routes'
    ? value
        .split(', ')
        .map(route => label('route', route))
        .join(', ')
    : key === 'inTime'
      ? label('risk', value)
      : /^\d{4}-\d\d-\d\d$/.test(value)
        ? day(value)
        : label('state', value)
const exportPath = (format: 'csv' | 'xlsx'): string => pathOf(props.list.export, { format }, query.value)
const TIME_TONES: Readonly<Record<string, string>> = { late: 'tone-stop', tight: 'tone-attention' }
const mark = (tone: ListRow['tone']): string => ({ stop: '▲', attention: '◆', settled: '✓', plain: '' })[tone]
defineExpose({ reload: () => load() })
</script>

<template>
  <section class="list-pane" :class="{ wide }" :aria-label="viewLabel(name, page?.view ?? '')">
    <header>
      <div class="head">
        <ElPopover trigger="click" :width="230" placement="bottom-start">
          <template #reference
            ><button type="button" class="view" data-test="view">
              <h2>{{ viewLabel(name, page?.view ?? 'all') }}</h2>
              <span>change</span>
            </button></template
          >
          <ul class="choices">
            <li v-for="view in page?.views" :key="view">
              <button
                type="button"
                class="plain"
                :class="{ now: view === page?.view }"
                :data-test="`view-${view}`"
                @click="set({ view })"
              >
                {{ viewLabel(name, view) }}
              </button>
            </li>
          </ul>
          <template v-if="(page?.sorts.length ?? 0) > 1"
            ><h3>Order</h3>
            <ul class="choices">
              <li v-for="sort in page?.sorts" :key="sort">
                <button type="button" class="plain" :class="{ now: sort === page?.sort }" @click="set({ sort })">
                  {{ label('sort', sort) }}
                </button>
              </li>
            </ul></template
          >
          <template v-if="page?.states.length"
            ><h3>Only</h3>
            <ul class="choices states">
              <li v-for="state in page.states" :key="state">
                <button
                  type="button"
                  class="plain"
                  :class="{ now: state === query.state }"
                  @click="set({ state: state === query.state ? undefined : state })"
                >
                  {{ label('state', state) }}
                </button>
              </li>
            </ul></template
          >
        </ElPopover>
        <button v-if="!choosing" type="button" class="plain quiet-link" @click="emit('widen')">
          {{ wide ? 'narrow' : 'widen' }}
        </button>
      </div>
      <input
        v-model="search"
        class="search"
        type="search"
        placeholder="Search this list"
        :aria-label="`Search ${viewLabel(name, page?.view ?? 'all')}`"
        data-test="list-search"
      />
      <div class="counts">
        <template v-if="page"
          >{{ page.shown >= 300 ? 'more than 300' : page.shown }} shown<template v-if="query.state"
            >, only {{ label('state', query.state) }}</template
          ><template v-if="page.hidden">; hides {{ page.countIsFloor ? 'more' : page.hidden }}</template
          >.
          <span class="files"
            ><a :href="exportPath('csv')" download>CSV</a><a :href="exportPath('xlsx')" download>XLSX</a></span
          ></template
        >
        <ElPopover v-if="wide" trigger="click" :width="200"
          ><template #reference><button type="button" class="plain">Columns</button></template>
          <ElCheckbox
            v-for="column in page?.columns"
            :key="column.key"
            :model-value="!hiddenColumns.has(column.key)"
            :label="label('column', column.key)"
            @change="toggleColumn(column.key)"
        /></ElPopover>
        <FilterSentence v-if="page?.asks.length" :list="list" :page="page" @change="set({ where: $event })" />
      </div>
      <slot name="acts" />
      <div v-if="wide" class="columns row-grid" :style="{ '--columns': shownColumns.length }">
        <span /><span>Number</span><span>What</span
        ><span
          v-for="column in shownColumns"
          :key="column.key"
          role="columnheader"
          :class="{ num: column.numeric }"
          :aria-sort="turned(column.key)"
          ><ElButton
            v-if="column.ordered"
            text
            size="small"
            class="order"
            :title="`Order by ${label('column', column.key)}; with Shift beside what it is ordered by`"
            :data-test="`order-${column.key}`"
            @click="orderWith(column.key, $event as MouseEvent)"
            >{{ label('column', column.key) }} {{ ORDERED[turned(column.key)] }}</ElButton
          ><template v-else>{{ label('column', column.key) }}</template></span
        ><span class="num">Amount</span><span>State</span>
      </div>
    </header>
    <p v-if="failed" class="reasons">
      The list could not be loaded. <button type="button" class="plain" @click="load()">Try again</button>
    </p>
    <div v-else-if="page && rows.length === 0" class="empty">
      <slot name="empty"
        >Nothing here.
        <template v-if="query.q || query.state || query.where || page.hidden"
          >The filter hides the rest:
          <button
            type="button"
            class="plain"
            @click="
              () => {
                search = ''
                set({ q: undefined, where: undefined, state: undefined, view: 'all' })
              }
            "
          >
            show all</button
          >.</template
        ></slot
      >
    </div>
    <div ref="scroller" class="rows" tabindex="-1">
      <div :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }">
        <div
          v-for="item in visible"
          :key="item.index"
          class="row"
          :class="{ selected: rows[item.index]!.id === selected, 'row-grid': wide }"
          :style="{
            transform: `translateY(${item.start}px)`,
            height: `${item.size}px`,
            '--columns': shownColumns.length,
          }"
          role="link"
          tabindex="0"
          :data-test="`row-${rows[item.index]!.number}`"
          @click="open(rows[item.index]!)"
          @keydown.enter.stop="open(rows[item.index]!)"
        >
          <template v-if="!wide">
            <span class="mark" :class="`tone-${rows[item.index]!.tone}`"
              ><ElCheckbox
                v-if="choosing"
                :model-value="chosen.has(rows[item.index]!.id)"
                :aria-label="`Choose ${rows[item.index]!.title}`"
                @click.stop
                @change="toggle(rows[item.index]!.id)"
              /><template v-else>{{ mark(rows[item.index]!.tone) }}</template></span
            >
            <span class="title">{{ rows[item.index]!.title }}</span>
            <span class="amount"
              ><template v-if="rows[item.index]!.amount"
                ><small>{{ rows[item.index]!.currency }}</small
                >{{ amountText(rows[item.index]!.amount!) }}</template
              ></span
            >
            <span class="sub"
              ><span class="cut">{{ rows[item.index]!.subtitle }}</span
              ><em :class="`tone-${rows[item.index]!.tone}`">{{ words(rows[item.index]!.note) }}</em></span
            >
          </template>
          <template v-else>
            <span class="mark" :class="`tone-${rows[item.index]!.tone}`"
              ><ElCheckbox
                v-if="choosing"
                :model-value="chosen.has(rows[item.index]!.id)"
                @click.stop
                @change="toggle(rows[item.index]!.id)"
              /><template v-else>{{ mark(rows[item.index]!.tone) }}</template></span
            >
            <span>{{ rows[item.index]!.number }}</span><span class="cut title">{{ rows[item.index]!.title }}</span>
            <span
              v-for="column in shownColumns"
              :key="column.key"
              class="cut"
              :class="[
                { num: column.numeric },
                column.key === 'inTime' ? TIME_TONES[rows[item.index]!.cells.inTime ?? ''] : '',
              ]"
              >{{
                column.numeric
                  ? amountText(rows[item.index]!.cells[column.key] ?? '')
                  : cell(column.key, rows[item.index]!.cells[column.key] ?? '')
              }}</span
            >
            <span class="num"
              ><template v-if="rows[item.index]!.amount"
                ><small class="unit">{{ rows[item.index]!.currency }}</small>
                {{ amountText(rows[item.index]!.amount!) }}</template
              ></span
            >
            <span class="cut" :class="`tone-${rows[item.index]!.tone}`">{{
              words(rows[item.index]!.note) || label('state', rows[item.index]!.state)
            }}</span>
          </template>
        </div>
      </div>
    </div>
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
.head {
  display: flex;
  align-items: baseline;
  gap: 8px;
}
.view {
  background: none;
  border: 0;
  padding: 0;
  display: flex;
  align-items: baseline;
  gap: 7px;
  cursor: pointer;
  color: var(--ink);
  font: inherit;
  text-align: left;
}
.view span,
.quiet-link {
  color: var(--tide);
  font-size: 12px;
}
.quiet-link {
  margin-left: auto;
}
.search {
  width: 100%;
  max-width: 420px;
  margin-top: 7px;
  height: 28px;
  border: 1px solid var(--rule);
  background: var(--sheet);
  border-radius: 2px;
  padding: 0 9px;
  font: inherit;
}
.counts {
  font-size: 12px;
  color: var(--ink-quiet);
  margin-top: 5px;
  display: flex;
  align-items: baseline;
  gap: 8px;
  flex-wrap: wrap;
}
.files {
  display: inline-flex;
  gap: 14px;
  margin: -4px 0 0 6px;
}
.files a {
  min-width: 26px;
  line-height: 26px;
}
.choices {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.choices li {
  padding: 3px 0;
}
.choices .now {
  font-weight: 700;
}
.choices.states {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.rows {
  flex: 1;
  overflow: auto;
  min-height: 0;
}
.row {
  position: absolute;
  left: 0;
  right: 0;
  display: grid;
  grid-template-columns: 18px 1fr auto;
  column-gap: 8px;
  align-content: center;
  padding: 6px 16px 6px 12px;
  border-bottom: 1px solid var(--rule-light);
  cursor: pointer;
}
.row:hover {
  background: #fbf7ee;
}
.row.selected {
  background: var(--sheet);
  box-shadow: inset 3px 0 0 var(--tide);
}
.row.row-grid,
.columns {
  display: grid;
  grid-template-columns: 18px 84px minmax(140px, 2fr) repeat(var(--columns), minmax(60px, 1fr)) 120px minmax(90px, 1fr);
  column-gap: 12px;
  align-items: center;
  padding-top: 0;
  padding-bottom: 0;
}
.columns {
  font-size: 11.5px;
  color: var(--ink-quiet);
  margin: 8px -4px 0;
}
.order {
  padding: 0;
  margin: 0;
  height: 20px;
  font: inherit;
  color: inherit;
}
.mark {
  font-size: 11px;
  line-height: 19px;
}
.mark :deep(.el-checkbox) {
  height: 18px;
}
.title {
  font-weight: 600;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.amount {
  text-align: right;
  font-weight: 500;
  white-space: nowrap;
}
.amount small {
  color: var(--ink-quiet);
  font-size: 11px;
  margin-right: 4px;
}
.sub {
  grid-column: 2 / 4;
  color: var(--ink-quiet);
  font-size: 12.2px;
  display: flex;
  justify-content: space-between;
  gap: 10px;
  min-width: 0;
}
.sub em {
  font-style: normal;
  white-space: nowrap;
}
.cut {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
