<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { ClosePeriod, JournalFile, ReadJournal, ReopenPeriod } from '#contract/bill/journal.ts'
import '#contract/messages/billing.ts'
import { addDays } from '#core/calendar/days.ts'
import { api, pathOf } from '#web/api.ts'
import TaxOfMonth from '#web/bill/TaxOfMonth.vue'
import LeftOpen from '#web/bill/LeftOpen.vue'
import WorkPage from '#web/frame/WorkPage.vue'
import { useSession } from '#web/people/session.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, label, since, words } from '#web/shared/words.ts'

/** What a month posted, account by account, held against the ledger; line by line as a table for the books. */
const session = useSession()
const month = ref(session.today.slice(0, 7))
const { data, loading, reload } = useRead(ReadJournal, () => ({ query: { month: month.value } }), { keep: true })
const { busy, reasons, run, clear } = useAction()
const reopening = ref(false)
async function close(): Promise<void> {
  await run(() => api(ClosePeriod, { params: { month: month.value } }))
  await reload()
}
async function reopen(reason: string): Promise<void> {
  if (!(await run(() => api(ReopenPeriod, { params: { month: month.value }, body: { reason } })))) return
  reopening.value = false
  await reload()
}
const go = (action: string): unknown => (clear(), action === 'closePeriod' ? close() : (reopening.value = true))
/** This month and the five before it. */
const months = computed(() => {
  const found = [session.today.slice(0, 7)]
  while (found.length < 6) found.push(addDays(`${found.at(-1)!}-01`, -1).slice(0, 7))
  return found
})
</script>

<template>
  <WorkPage :margin="0" :aria-busy="loading"
    ><h1>Journal of {{ month }}</h1>
    <p class="bar">
      <ElButton
        v-for="one in months"
        :key="one"
        size="small"
        :type="month === one ? 'primary' : 'default'"
        :data-test="`month-${one}`"
        @click="month = one"
        >{{ one }}</ElButton><a
        v-if="data?.lines"
        :href="pathOf(JournalFile, {}, { month })"
        download
        data-test="journal-file"
        >As a table</a
      >
    </p>
    <template v-if="data"
      ><p data-test="journal-sum">
        <b>{{ data.documents }}</b> documents, {{ data.lines }} lines, {{ data.currency }}
        {{ amountText(data.total) }} on each side.
        <b :class="data.differences.length ? 'tone-stop' : 'tone-settled'">{{
          data.differences.length ? `These do not re-add: ${data.differences.join(', ')}` : 'It re-adds to the ledger.'
        }}</b>
      </p>
      <p class="bar" data-test="period">
        <template v-if="data.period.closed"
          ><b>Closed</b> by {{ data.period.by }} {{ since(data.period.at!) }}.
          <b :class="data.period.same ? 'tone-settled' : 'tone-stop'">{{
            data.period.same ? 'Its journal is what it was then.' : 'Its journal is not what it was then.'
          }}</b></template
        ><template v-else
          ><b>Open.</b
          ><template v-if="data.period.at">
            Opened again by {{ data.period.by }} {{ since(data.period.at) }}: “{{ data.period.reason }}”</template
          ></template
        >
        <template v-if="session.may('budget.write')"
          ><template v-for="one in data.period.actions" :key="one.action"
            ><ElButton size="small" :disabled="!one.possible || busy" :data-test="one.action" @click="go(one.action)">{{
              label('action', one.action)
            }}</ElButton
            ><span class="quiet"> {{ one.reasons.map(words).join(' ') }}</span></template
          ></template
        >
      </p>
      <ReasonList v-if="!reopening" :reasons="reasons" />
      <p class="quiet">
        What came in and was not billed is accrued on the last day of the month and reversed on the first of the next.
      </p>
      <p v-if="data.accounts.length === 0" class="empty">Nothing was posted in this month.</p>
      <LineTable
        v-else
        class="section"
        :rows="data.accounts"
        :columns="
          lineColumns({
            account: 'Account',
            '#debit': 'Debit',
            '#credit': 'Credit',
            '#ledger': 'Spent, by the ledger',
          })
        "
        label="Accounts"
        :key-of="one => one.account"
        ><template #account="{ row: one }">{{ one.account }}</template>
        <template #debit="{ row: one }">{{ amountText(one.debit) }}</template>
        <template #credit="{ row: one }">{{ amountText(one.credit) }}</template>
        <template #ledger="{ row: one }">{{ one.ledger ? amountText(one.ledger) : '' }}</template></LineTable
      >
      <TaxOfMonth :month="month" />
      <LeftOpen :month="month" /></template
    ><ActDialog
      :open="reopening"
      :title="`Open ${month} again`"
      what="Goods can be received into it again, and its journal may change until it is closed once more."
      :button="label('action', 'reopenPeriod')"
      :busy="busy"
      :reasons="reasons"
      @close="reopening = false"
      @go="reopen"
  /></WorkPage>
</template>
