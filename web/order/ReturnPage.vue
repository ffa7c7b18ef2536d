<script setup lang="ts">
import '#contract/messages/later.ts'
import '#web/theme/later.scss'
import { ElButton, ElRadio, ElRadioGroup } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { ApplyReturn, ChangeReturn, ReadReturn } from '#contract/order/workbook.ts'
import type { BodyOf } from '#contract/endpoint.ts'
import { ROW_STATES, type RowState } from '#core/order/workbook.ts'
import { api } from '#web/api.ts'
import { documentTopic } from '#web/news/news.ts'
import ReturnRows from '#web/order/ReturnRows.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { stamp } from '#web/shared/words.ts'

/** A workbook that came back: what each row would change, what is in conflict, what is refused and why; corrected in place, then done. */
type Changes = BodyOf<typeof ChangeReturn>['rows']
const route = useRoute()
const id = computed(() => String(route.params.id))
/** The job that works it in, which has news of how it ends. */
const jobId = ref<string | null>(null)
const { data, failure, reload } = useRead(
  ReadReturn,
  computed(() => ({ params: { id: id.value } })),
  { topics: () => (jobId.value === null ? [] : [documentTopic(jobId.value)]), keep: true },
)
const { busy, reasons, run, clear } = useAction()
const shown = ref<RowState | ''>('')
const asking = ref(false)
const counts = computed(() => {
  const sums = new Map<RowState, number>()
  for (const { state } of data.value?.rows ?? []) sums.set(state, (sums.get(state) ?? 0) + 1)
  return ROW_STATES.filter(state => sums.has(state)).map(state => [state, sums.get(state)!] as const)
})
const count = (state: RowState): number => counts.value.find(([one]) => one === state)?.[1] ?? 0
watch(
  data,
  now => {
    jobId.value = now?.jobId ?? null
    if (!now || shown.value !== '') return
    shown.value = (['refused', 'conflict', 'ready', 'settled'] as const).find(state => count(state) > 0) ?? ''
  },
  { immediate: true },
)
const rows = computed(() => (data.value?.rows ?? []).filter(row => shown.value === '' || row.state === shown.value))
const open = computed(() => data.value?.state === 'open')

async function change(changed: Changes): Promise<void> {
  if (
    await run(() =>
      api(ChangeReturn, { params: { id: id.value }, body: { version: data.value!.version, rows: changed } }),
    )
  )
    await reload()
}
const chooseAll = (choice: 'file' | 'now'): Promise<void> =>
  change(data.value!.rows.filter(row => row.state === 'conflict').map(row => ({ row: row.row, choice })))
async function apply(reason: string): Promise<void> {
  const done = await run(() =>
    api(ApplyReturn, { params: { id: id.value }, body: { version: data.value!.version, reason } }),
  )
  if (!done) return
  asking.value = false
  shown.value = ''
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
  <article v-else-if="data" class="rows-page">
    <p class="quiet"><RouterLink to="/order">Order</RouterLink>, workbook</p>
    <h1>{{ data.fileName }}</h1>
    <p>
      Went out by {{ data.madeBy }} {{ stamp(data.madeAt) }}, came back {{ stamp(data.at)
      }}<template v-if="data.missing"
        >; {{ data.missing }} {{ data.missing === 1 ? 'line' : 'lines' }} not in it any more, left as they are</template
      >.
    </p>
    <p v-if="data.state === 'applying'" role="status" data-test="return-applying">
      It is being worked in. You can leave this page; it ends on your Desk.
    </p>
    <p v-else-if="data.outcome" role="status" class="tone-settled" data-test="return-done">
      {{ data.outcome.lines }} {{ data.outcome.lines === 1 ? 'line' : 'lines' }} of {{ data.outcome.orders }}
      {{ data.outcome.orders === 1 ? 'order' : 'orders' }} changed, {{ data.outcome.mails }}
      {{ data.outcome.mails === 1 ? 'mail' : 'mails' }} to suppliers.
    </p>
    <div class="bar tools">
      <ElRadioGroup v-model="shown" aria-label="Which rows"
        ><ElRadio value="">All {{ data.rows.length }}</ElRadio
        ><ElRadio v-for="[state, some] in counts" :key="state" :value="state" :data-test="`show-${state}`"
          ><span :class="{ 'tone-stop': state === 'refused', 'tone-attention': state === 'conflict' }"
            >{{ laterLabel('returned row', state) }} {{ some }}</span
          ></ElRadio
        ></ElRadioGroup
      >
      <template v-if="open && shown === 'conflict'"
        ><ElButton link :disabled="busy" @click="chooseAll('file')">all as in the file</ElButton
        ><ElButton link :disabled="busy" @click="chooseAll('now')">all as they are now</ElButton></template
      >
      <ElButton
        v-if="open"
        type="primary"
        class="go"
        :disabled="busy || count('ready') === 0"
        data-test="apply-return"
        @click="
          () => {
            clear()
            asking = true
          }
        "
        >Change {{ count('ready') }} {{ count('ready') === 1 ? 'line' : 'lines' }}</ElButton
      >
    </div>
    <ReasonList v-if="!asking" :reasons="reasons" />
    <ReturnRows :rows="rows" :open="open" :busy="busy" @change="change" />
    <ActDialog
      :open="asking"
      title="Work it in"
      :what="`${count('ready')} lines are changed, order by order: issued orders get a revision, each supplier one mail about all of its orders. What is refused or in conflict stays as it is.`"
      button="Do it"
      :busy="busy"
      :reasons="reasons"
      @close="asking = false"
      @go="apply"
    />
  </article>
</template>
