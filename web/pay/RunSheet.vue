<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { AnswerRecall, ApproveRun, ReadRun, RecallRun, RunFile, WithdrawRun } from '#contract/pay/endpoints.ts'
import { PAYMENT_GROUPS, RUN_GROUPS } from '#core/pay/states.ts'
import { isIn } from '#core/states.ts'
import { api, pathOf } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, since } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

const session = useSession()

const route = useRoute()
const id = computed(() => String(route.params.id))
const { sheet, failure, stale, reload } = useSheet(ReadRun, id)
const { busy, reasons, run, clear } = useAction()
const asking = ref('')
const BANK: Readonly<Record<string, string>> = {
  AC01: 'wrong account number',
  AC04: 'account closed',
  AM04: 'not enough money',
  MS03: 'no reason given',
}
const TITLES: Readonly<Record<string, string>> = {
  withdraw: 'Withdraw the run',
  recall: 'Recall the run at the bank',
  confirmRecall: 'The bank has stopped it',
  refuseRecall: 'The run is not recalled',
}
const WHAT: Readonly<Record<string, string>> = {
  withdraw: 'Its invoices are open again and can go into another run.',
  recall:
    'The bank has the file, or may have it: ask the bank to stop it first. A second person then confirms that it did; until then nothing is paid again.',
  confirmRecall:
    'Only when the bank has said that nothing of it was or will be paid. Its invoices are open again and can go into another run.',
  refuseRecall: 'The run goes on as it is; whoever asked for the recall is told.',
}
async function act(name: string): Promise<void> {
  clear()
  if (name !== 'approve') {
    asking.value = name
    return
  }
  await run(() => api(ApproveRun, { params: { id: id.value }, body: { version: sheet.value!.version } }))
  await reload()
}
async function go(reason: string): Promise<void> {
  const params = { id: id.value }
  const { version } = sheet.value!
  const done = await run(() =>
    asking.value === 'withdraw'
      ? api(WithdrawRun, { params, body: { version, reason } })
      : asking.value === 'recall'
        ? api(RecallRun, { params, body: { version, reason } })
        : api(AnswerRecall, {
            params,
            body: { version, reason, answer: asking.value === 'confirmRecall' ? 'approve' : 'reject' },
          }),
  )
  if (!done) return
  asking.value = ''
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>Payment run {{ sheet.number }}</b
      >, proposed by {{ sheet.proposedBy }}{{ sheet.approvedBy ? `, approved by ${sheet.approvedBy}` : ''
      }}<template v-if="isIn(RUN_GROUPS.filed, sheet.state) && session.may('payment.approve')"
        >. <a :href="pathOf(RunFile, { id })" download data-test="run-file">pain.001 file</a></template
      ></template
    >
    <template #title
      ><h1>
        {{
          sheet.totals.length === 1
            ? `${sheet.totals[0]!.currency} ${amountText(sheet.totals[0]!.amount)}`
            : `${sheet.payments.length} payments in ${sheet.totals.length} currencies`
        }}
        on {{ day(sheet.executeOn) }}
      </h1></template
    >
    <template #notice
      ><ReasonList v-if="!asking" :reasons="reasons" />
      <p v-if="sheet.recall" class="reasons check">
        {{ sheet.recall.askedBy }} asked {{ since(sheet.recall.at) }} to recall it: “{{ sheet.recall.reason }}”
      </p>
      <p v-if="sheet.trouble" class="reasons check">
        The bank could not be reached with its file; it is tried again by itself. {{ sheet.trouble }}
      </p></template
    >
    <LineTable
      class="section"
      :rows="sheet.payments"
      :columns="
        lineColumns({
          to: 'To',
          invoice: 'Invoice',
          account: 'Account',
          due: 'Due',
          '#amount': 'Amount',
          state: 'State',
        })
      "
      label="Payments"
      :key-of="one => one.id"
      :sums="
        sheet.totals.map(one => ({
          key: one.currency,
          cells: { to: `${one.payments} payments`, amount: `${amountText(one.amount)} ${one.currency}` },
          total: true,
        }))
      "
      ><template #to="{ row: one }">{{ one.supplier }}</template>
      <template #invoice="{ row: one }"
        ><span class="iban"
          ><RouterLink :to="one.invoicePath">{{ one.invoiceNumber }}</RouterLink></span
        ></template
      >
      <template #account="{ row: one }"
        ><span class="iban"
          >{{ one.iban.slice(0, 4) }} … {{ one.iban.slice(-6)
          }}<small v-if="one.accountState !== 'proven'" class="tone-attention"
            >◆ {{ one.accountState === 'unproven' ? 'account to be checked' : 'account was changed' }}</small
          ></span
        ></template
      >
      <template #due="{ row: one }"
        ><span class="iban">{{ day(one.dueOn) }}</span></template
      >
      <template #amount="{ row: one }"
        >{{ amountText(one.amount) }} <span class="unit">{{ one.currency }}</span></template
      >
      <template #state="{ row: one }"
        ><span :class="{ 'tone-stop': isIn(PAYMENT_GROUPS.failed, one.state), 'tone-settled': one.state === 'paid' }"
          >{{ laterLabel('payment', one.state)
          }}<small v-if="one.bankReason"
            >{{ one.bankReason }}, {{ BANK[one.bankReason] ?? 'see the bank’s list' }}</small
          ><small v-if="one.paidOn">{{ day(one.paidOn) }}</small></span
        ></template
      ></LineTable
    >
    <template #margin
      ><section v-if="sheet.messages.length">
        <h3>The bank said</h3>
        <p v-for="one in sheet.messages" :key="one.id" class="kv">
          <RouterLink :to="one.path">{{ one.kind }}, {{ one.messageId }}</RouterLink
          ><span class="quiet">{{ since(one.at) }}</span>
        </p>
      </section></template
    >
  </SheetFrame>
  <ActDialog
    :open="asking !== ''"
    :title="TITLES[asking] ?? ''"
    :what="WHAT[asking] ?? ''"
    :button="asking ? label('action', asking) : ''"
    :busy="busy"
    :reasons="reasons"
    @close="asking = ''"
    @go="go"
  />
</template>

<style scoped>
.iban {
  white-space: nowrap;
}
</style>
