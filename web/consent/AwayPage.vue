<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { type AwayJson, EndAway, ReadAway } from '#contract/consent/endpoints.ts'
import { api } from '#web/api.ts'
import AwayDialog from '#web/consent/AwayDialog.vue'
import { useSession } from '#web/people/session.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day, label } from '#web/shared/words.ts'

/** When people are away, and who decides in their place. */
const session = useSession()
const { data, reload } = useRead(ReadAway)
const { busy, reasons, run } = useAction()
const editing = ref<AwayJson | 'new'>()
const mayChange = (one: AwayJson): boolean => one.person.id === session.person?.id || session.may('requisition.passOn')
const what = (one: AwayJson): string =>
  [
    one.kinds.length === 0 ? 'all decisions' : one.kinds.map(kind => label('stood in', kind)).join(' and '),
    ...(one.limit === null ? [] : [`up to ${amountText(one.limit)} ${data.value?.currency ?? ''}`]),
  ].join(', ')
async function end(one: AwayJson): Promise<void> {
  if (await run(() => api(EndAway, { params: { id: one.id } }))) await reload()
}
async function saved(): Promise<void> {
  editing.value = undefined
  await reload()
}
</script>

<template>
  <main class="away-page">
    <p><RouterLink to="/decide" class="quiet">← Decisions</RouterLink></p>
    <div class="head">
      <h1>Away times and stand-ins</h1>
      <ElButton type="primary" data-test="new-away" @click="editing = 'new'">I am going to be away</ElButton>
    </div>
    <p class="quiet">
      On these days somebody decides in another’s place. Both names stand beside each decision; nobody decides what they
      asked for themselves, also not in another’s place.
    </p>
    <LineTable
      v-if="data?.times.length"
      :rows="data.times"
      :columns="
        lineColumns({ person: 'Who', days: 'Days', standIn: 'Decides in their place', note: 'Note', '-acts': 'Acts' })
      "
      label="Away times"
      :key-of="one => one.id"
      ><template #person="{ row }"
        >{{ row.person.name }}<small>{{ row.away ? 'away' : 'is there, decides too' }}</small></template
      >
      <template #days="{ row }">{{ day(row.fromDay) }} to {{ day(row.toDay) }}</template>
      <template #standIn="{ row }"
        ><template v-if="row.standIn"
          >{{ row.standIn.name }}<small>{{ what(row) }}</small></template
        ><span v-else class="tone-attention">nobody: what waits stands still</span></template
      >
      <template #note="{ row }">{{ row.note }}</template>
      <template #acts="{ row }"
        ><div v-if="mayChange(row)" class="bar">
          <ElButton link type="primary" data-test="change-away" @click="editing = row">change</ElButton
          ><ElButton link type="primary" :disabled="busy" data-test="end-away" @click="end(row)">end it</ElButton>
        </div></template
      ></LineTable
    >
    <p v-else-if="data" class="empty">
      Nobody is away. Enter the days on which you are, and who decides meanwhile: nothing waits for an empty chair.
    </p>
    <ReasonList :reasons="reasons" />
    <AwayDialog
      v-if="editing && data"
      :time="editing === 'new' ? undefined : editing"
      :people="data.people"
      :currency="data.currency"
      @done="saved"
      @close="editing = undefined"
    />
  </main>
</template>

<style scoped>
.away-page {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 20px 28px 60px;
}
.away-page > :not(.el-overlay) {
  max-width: 1040px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 8px;
}
@media (max-width: 700px) {
  .away-page {
    padding: 14px 14px 40px;
  }
}
</style>
