<script setup lang="ts">
import { computed, reactive } from 'vue'
import { EvidenceCsv, EvidencePdf, ReadEvidence } from '#contract/decide/endpoints.ts'
import { addDays } from '#core/calendar/days.ts'
import { pathOf } from '#web/api.ts'
import DeciderTimes from '#web/decide/DeciderTimes.vue'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, label, stamp } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Who decided what in a time, where days are lost, and who did more than one thing about one purchase. */
const session = useSession()
const period = reactive({ fromDay: addDays(session.today, -90), toDay: session.today })
const { data, failure, reload } = useRead(ReadEvidence, () => ({ query: { ...period } }), { keep: true })
const files = computed(() => ({
  csv: pathOf(EvidenceCsv, {}, { ...period }),
  pdf: pathOf(EvidencePdf, {}, { ...period }),
}))
const COLUMNS = computed(() =>
  lineColumns({
    at: 'When',
    request: 'About',
    '#amount': `Amount, ${data.value?.currency ?? ''}`,
    decider: 'Decided by',
    rules: 'By the rule',
    seen: 'Had seen',
  }),
)
</script>

<template>
  <main class="evidence">
    <p><RouterLink to="/decide" class="quiet">← Decisions</RouterLink></p>
    <div class="head">
      <h1>Who decided what</h1>
      <p class="bar">
        <DayField v-model="period.fromDay" label="From" mark="evidence-from" /> to
        <DayField v-model="period.toDay" label="To" mark="evidence-to" />
        <a :href="files.csv" data-test="evidence-csv">CSV</a
        ><a :href="files.pdf" target="_blank" rel="noopener" data-test="evidence-pdf">PDF</a>
      </p>
    </div>
    <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
    <template v-else-if="data">
      <DeciderTimes v-if="data.times.length" :times="data.times" />
      <section>
        <h2>Separation of duties</h2>
        <p v-if="data.exceptions.length === 0">
          Of {{ data.purchases }} purchases nobody did more than one of requesting, deciding, receiving and paying.
        </p>
        <LineTable
          v-else
          :rows="data.exceptions"
          :columns="lineColumns({ request: 'Request', person: 'Who', duties: 'Did' })"
          label="Exceptions"
          :key-of="one => `${one.id} ${one.person}`"
          ><template #request="{ row }"
            ><RouterLink :to="row.path">{{ row.number }}</RouterLink> {{ row.title }}</template
          >
          <template #person="{ row }">{{ row.person }}</template>
          <template #duties="{ row }"
            ><span class="tone-attention"
              >◆ {{ row.duties.map(one => laterLabel('duty', one)).join(' and ') }}</span
            ></template
          ></LineTable
        >
      </section>
      <section>
        <h2>Decisions</h2>
        <LineTable :rows="data.decisions" :columns="COLUMNS" label="Decisions" :key-of="one => one.id"
          ><template #at="{ row }">{{ stamp(row.at) }}</template>
          <template #request="{ row }"
            ><RouterLink :to="row.path">{{ row.number }}</RouterLink> {{ row.title
            }}<small>{{ row.requester }}</small></template
          >
          <template #amount="{ row }">{{ row.amount === null ? '' : amountText(row.amount) }}</template>
          <template #decider="{ row }"
            >{{ row.decider
            }}<small
              >{{ label('state', row.outcome) }}{{ row.channel === 'web' ? '' : ` by ${label('channel', row.channel)}`
              }}{{ row.inPlaceOf ? `, in place of ${row.inPlaceOf}` : '' }}</small
            ></template
          >
          <template #rules="{ row }"
            >{{ row.rules }}<small v-if="row.ruleVersion">version {{ row.ruleVersion }}</small></template
          >
          <template #seen="{ row }"
            ><code v-if="row.seen" :title="row.seen">{{ row.seen.slice(0, 10) }}</code></template
          ></LineTable
        >
        <p v-if="data.more" class="quiet">{{ data.more }} more are in the files.</p>
      </section>
    </template>
  </main>
</template>

<style scoped>
.evidence {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 20px 28px 60px;
}
.evidence > * {
  max-width: 1120px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  flex-wrap: wrap;
  gap: 8px;
}
/* the days stand beside each other */
.head :deep(.el-date-editor) {
  width: 150px;
}
section {
  margin-top: 20px;
}
code {
  font-size: 12px;
}
</style>
