<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, defineAsyncComponent, ref } from 'vue'
import { useRouter } from 'vue-router'
import { type DeskItem, PutOff, ReadDesk } from '#contract/desk/endpoints.ts'
import { TOGETHER, type TogetherAct } from '#contract/documents/together.ts'
import { addDays } from '#core/calendar/days.ts'
import { deskGroups } from '#core/desk/groups.ts'
import { api } from '#web/api.ts'
import DeskGroup from '#web/desk/DeskGroup.vue'
import DoneToday from '#web/desk/DoneToday.vue'
import PutOffList from '#web/desk/PutOffList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { OWN_DESK } from '#web/news/news.ts'
import { usePreferences } from '#web/people/preferences.ts'
import { useSession } from '#web/people/session.ts'
import { sayInPassing } from '#web/shared/message.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { useShortcuts } from '#web/shared/useShortcuts.ts'
import { day } from '#web/shared/words.ts'

/** What waits for one person, by what there is to do. */
const TogetherDialog = defineAsyncComponent(() => import('#web/lists/TogetherDialog.vue'))
const session = useSession()
const preferences = usePreferences()
const router = useRouter()
const { run } = useAction()
const { data, failure, reload } = useRead(ReadDesk, {}, { topics: [OWN_DESK] })
/** Whose Desk is looked at: one's own and those one stands in for, or one of them. */
const whose = ref<string | null>(null)
const at = ref('')
const together = ref<{ act: TogetherAct; ids: string[] }>()

const items = computed(() => data.value?.items ?? [])
const stoodFor = computed(() => [...new Set(items.value.flatMap(item => item.standsInFor ?? []))])
const shown = computed(() =>
  items.value.filter(item => whose.value === null || (item.standsInFor ?? '') === whose.value),
)
const groups = computed(() => deskGroups(shown.value))
const folded = computed(() => new Set(preferences.get('folded', 'desk') ?? []))
const open = computed(() => groups.value.filter(group => !folded.value.has(group.act)).flatMap(group => group.items))

function fold(act: string): void {
  const next = new Set(folded.value)
  if (!next.delete(act)) next.add(act)
  preferences.set('folded', 'desk', [...next])
}
/** What can be done with all of a group at once. */
function actOf(group: { act: string; items: readonly DeskItem[] }): TogetherAct | undefined {
  const acts = TOGETHER.order as readonly string[]
  const fits = group.items.length > 1 && group.items.every(item => item.documentKind === 'order')
  return fits && acts.includes(group.act) ? (group.act as TogetherAct) : undefined
}
function doTogether(act: string): void {
  const group = groups.value.find(one => one.act === act)
  const can = group && actOf(group)
  if (group && can) together.value = { act: can, ids: group.items.map(item => item.documentId) }
}
async function putOff(keys: readonly string[], until: string | null): Promise<void> {
  const done = await run(() => api(PutOff, { body: { keys: [...keys], until } }))
  if (!done) return
  sayInPassing(until === null ? 'Back on your Desk.' : `Put off until ${day(until)}.`)
  await reload()
}
function go(by: number): void {
  const now = open.value.findIndex(item => item.key === at.value)
  const next = open.value[Math.max(0, Math.min(open.value.length - 1, now + by))]
  if (!next) return
  at.value = next.key
  document.getElementById(`desk-${next.key}`)?.scrollIntoView({ block: 'nearest' })
}
const here = (): DeskItem | undefined => open.value.find(item => item.key === at.value)
const step = (by: number) => (event: KeyboardEvent) => {
  event.preventDefault()
  go(by)
}
useShortcuts({
  j: step(1),
  k: step(-1),
  ArrowDown: step(1),
  ArrowUp: step(-1),
  Enter: () => {
    const item = here()
    if (item) void router.push(item.path)
  },
  p: () => {
    const item = here()
    if (!item) return
    go(1)
    void putOff([item.key], addDays(session.today, 1))
  },
  c: () => doTogether('chase'),
  i: () => doTogether('issue'),
})
const title = computed(() =>
  items.value.length === 0
    ? 'Nothing waits for you'
    : items.value.length === 1
      ? 'One thing waits for you'
      : `${items.value.length} things wait for you`,
)
</script>

<template>
  <main class="desk-page">
    <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
    <div v-else-if="data" class="column">
      <header>
        <h1>{{ title }}</h1>
        <p class="quiet">What costs most to leave stands first: what is held, then what is needed soonest.</p>
        <p v-if="stoodFor.length" class="bar whose" data-test="desk-whose">
          <ElButton link :class="{ now: whose === null }" @click="whose = null">Everything</ElButton
          ><ElButton link :class="{ now: whose === '' }" @click="whose = ''">Yours</ElButton
          ><ElButton v-for="name in stoodFor" :key="name" link :class="{ now: whose === name }" @click="whose = name"
            >In place of {{ name }}</ElButton
          >
        </p>
      </header>
      <p v-if="items.length === 0" class="empty">
        When a request, an order, a delivery or an invoice needs you, it stands here.
        <RouterLink v-if="session.may('requisition.write')" to="/request/catalogue"
          >Ask for something from the catalogue.</RouterLink
        >
      </p>
      <DeskGroup
        v-for="group in groups"
        :key="group.act"
        :act="group.act"
        :items="group.items"
        :folded="folded.has(group.act)"
        :at="at"
        :together="actOf(group)"
        @fold="fold(group.act)"
        @together="doTogether(group.act)"
        @put-off="putOff"
      />
      <PutOffList v-if="data.later.length" :later="data.later" @back="putOff([$event], null)" />
      <DoneToday />
    </div>
    <TogetherDialog
      v-if="together"
      kind="order"
      :act="together.act"
      :ids="together.ids"
      @done="reload"
      @close="together = undefined"
    />
  </main>
</template>

<style scoped>
.desk-page {
  overflow: auto;
  flex: 1;
  background: var(--page);
  padding: 28px 24px 60px;
}
.column {
  max-width: 980px;
  margin: 0 auto;
}
.whose {
  margin-top: 8px;
}
.now {
  font-weight: 700;
}
@media (max-width: 700px) {
  .desk-page {
    padding: 18px 14px 40px;
  }
}
@media print {
  .desk-page {
    overflow: visible;
  }
}
</style>
