<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { AccruedFile, ReadAccrued } from '#contract/receive/overdue.ts'
import { addDays } from '#core/calendar/days.ts'
import { pathOf } from '#web/api.ts'
import WorkPage from '#web/frame/WorkPage.vue'
import DayField from '#web/shared/DayField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day, quantityText, unit } from '#web/shared/words.ts'

/** What had come in and was not billed at the end of a period, by the accounts on which it is accrued. */
const on = ref<string | null>(null)
const { data, loading } = useRead(ReadAccrued, () => ({ query: on.value ? { on: on.value } : {} }), { keep: true })
/** One table; an account and its sum stand at its first line. */
const rows = computed(() =>
  (data.value?.accounts ?? []).flatMap(({ account, amount, lines }) =>
    lines.map((line, index) => ({ ...line, account, sum: index === 0 ? amount : '', key: `${account} ${index}` })),
  ),
)
/** The last days of the months before. */
function monthsBefore(today: string, count: number): string[] {
  const days: string[] = []
  for (let first = `${today.slice(0, 8)}01`; days.length < count; first = `${days.at(-1)!.slice(0, 8)}01`)
    days.push(addDays(first, -1))
  return days
}
</script>

<template>
  <WorkPage :margin="0" :aria-busy="loading"
    ><h1>Received, not billed</h1>
    <p class="bar">
      At the end of
      <DayField v-model="on" label="At the end of" empty="today" mark="accrued-on" />
      <template v-if="data"
        ><ElButton
          v-for="one in monthsBefore(data.today, 3)"
          :key="one"
          size="small"
          :type="on === one ? 'primary' : 'default'"
          :data-test="`accrued-${one}`"
          @click="on = one"
          >{{ day(one) }}</ElButton
        ></template
      ><a
        v-if="data?.accounts.length"
        :href="pathOf(AccruedFile, {}, { on: data.on })"
        download
        data-test="accrued-file"
        >As a table</a
      >
    </p>
    <template v-if="data"
      ><p class="sum" data-test="accrued-total">
        <b>{{ data.currency }} {{ amountText(data.total) }}</b> had come in and was not billed.
      </p>
      <LineTable
        v-if="rows.length"
        :rows="rows"
        :columns="
          lineColumns({
            account: 'Account',
            order: 'Order',
            description: 'What',
            '#received': 'Received',
            '#billed': 'Billed',
            '#amount': 'Accrued',
          })
        "
        label="Received, not billed"
        :key-of="row => row.key"
        ><template #account="{ row }"
          ><template v-if="row.sum"
            ><b>{{ row.account }}</b
            ><small>{{ data.currency }} {{ amountText(row.sum) }}</small></template
          ></template
        ><template #order="{ row }"
          ><RouterLink :to="row.path">{{ row.order }}</RouterLink
          ><small>{{ row.supplier }}</small></template
        ><template #description="{ row }">{{ row.description }}</template
        ><template #received="{ row }">{{ quantityText(row.received) }} {{ unit(row.unit) }}</template
        ><template #billed="{ row }">{{ quantityText(row.billed) }}</template
        ><template #amount="{ row }">{{ amountText(row.amount) }}</template></LineTable
      >
      <p v-if="data.more" class="quiet">The first 2000 lines are shown; the sums are of all.</p></template
    >
  </WorkPage>
</template>

<style scoped>
.bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
}
small {
  display: block;
  color: var(--ink-quiet);
}
.sum {
  margin: 12px 0;
  font-size: 1.05rem;
}
</style>
