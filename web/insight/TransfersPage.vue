<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AskTransfer, DecideTransfer, ListTransfers, type TransferJson } from '#contract/budgets/endpoints.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, label, since } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** Money moves between accounts when somebody else agrees; the figures of both stand beside it. */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const answer = shallowRef<ResponseOf<typeof ListTransfers>>()
const accounts = shallowRef<readonly { id: string; label: string }[]>([])
const form = reactive({ fromId: '', toId: '', amount: '', reason: '' })
const asking = ref<{ transfer: TransferJson; action: 'approve' | 'refuse' | 'withdraw' }>()
const load = async (): Promise<void> => {
  answer.value = await api(ListTransfers)
}
onMounted(async () => {
  await load()
  accounts.value = (await api(ReadChoices)).accounts
})
const waiting = computed(() => answer.value?.transfers.filter(one => one.state === 'waiting') ?? [])
const decided = computed(() => answer.value?.transfers.filter(one => one.state !== 'waiting') ?? [])
const ready = computed(() => form.fromId && form.toId && form.amount && form.reason.trim().length >= 3)
async function ask(): Promise<void> {
  if (await run(() => api(AskTransfer, { body: { ...form } }))) {
    Object.assign(form, { fromId: '', toId: '', amount: '', reason: '' })
    await load()
  }
}
function decide(transfer: TransferJson, action: 'approve' | 'refuse' | 'withdraw'): void {
  clear()
  asking.value = { transfer, action }
}
async function go(reason: string): Promise<void> {
  const { transfer, action } = asking.value!
  if (
    await run(() =>
      api(DecideTransfer, { params: { id: transfer.id }, body: { version: transfer.version, action, reason } }),
    )
  ) {
    asking.value = undefined
    await load()
  }
}
</script>

<template>
  <article class="transfers">
    <h1>Moving budget</h1>
    <p class="quiet">
      Nothing moves before the holder of the giving cost centre, or finance, agrees; nobody agrees to what they asked
      for.
    </p>
    <section v-for="one in waiting" :key="one.id" class="waiting" :data-test="`transfer-${one.number}`">
      <p>
        <b>{{ amountText(one.amount) }}</b> <span class="unit">{{ answer?.currency }}</span> from {{ one.from.label }}
        <span class="quiet">({{ amountText(one.from.available) }} left)</span> to {{ one.to.label }}
        <span class="quiet">({{ amountText(one.to.available) }} left)</span>
      </p>
      <p>
        “{{ one.reason }}” <span class="quiet">{{ one.number }}, {{ one.askedBy }}, {{ since(one.askedAt) }}</span>
      </p>
      <p class="bar">
        <template v-if="one.mayDecide"
          ><ElButton
            type="primary"
            size="small"
            :disabled="busy"
            data-test="approve-transfer"
            @click="decide(one, 'approve')"
            >Agree</ElButton
          ><ElButton link data-test="refuse-transfer" @click="decide(one, 'refuse')"> refuse </ElButton></template
        ><ElButton link v-if="one.mine" @click="decide(one, 'withdraw')">withdraw</ElButton
        ><span v-if="!one.mayDecide && !one.mine" class="quiet"
          >waits for the holder of {{ one.from.label.split(' / ')[0] }}, or finance</span
        >
      </p>
    </section>
    <section v-if="session.may('budget.transfer')" class="section">
      <h2>Ask for a transfer</h2>
      <EntryForm :reasons="asking ? [] : reasons" :busy="busy" columns @submit="ask">
        <FormField label="From" place="fromId"
          ><ElSelect v-model="form.fromId" filterable default-first-option data-test="transfer-from"
            ><ElOption v-for="one in accounts" :key="one.id" :value="one.id" :label="one.label" /></ElSelect></FormField
        ><FormField label="To" place="toId"
          ><ElSelect v-model="form.toId" filterable default-first-option data-test="transfer-to"
            ><ElOption v-for="one in accounts" :key="one.id" :value="one.id" :label="one.label" /></ElSelect></FormField
        ><FormField :label="`Amount, ${answer?.currency}`" place="amount"
          ><NumberField v-model="form.amount" label="Amount" data-test="transfer-amount" /></FormField
        ><FormField label="Why"
          ><ElInput v-model="form.reason" maxlength="1000" data-test="transfer-reason"
        /></FormField>
        <template #acts>
          <ElButton type="primary" :disabled="busy || !ready" data-test="ask-transfer" native-type="submit"
            >Ask for it</ElButton
          >
        </template></EntryForm
      >
    </section>
    <section v-if="decided.length" class="section">
      <h2>Decided</h2>
      <LineTable
        :rows="decided"
        :columns="lineColumns({ number: 'Number', '#amount': 'Amount', from: 'From', to: 'To', outcome: 'Outcome' })"
        label="Decided transfers"
        :key-of="one => one.id"
        ><template #number="{ row: one }">{{ one.number }}</template>
        <template #amount="{ row: one }">{{ amountText(one.amount) }}</template>
        <template #from="{ row: one }">
          <RouterLink :to="`/insight/${one.from.id}`">{{ one.from.label }}</RouterLink>
        </template>
        <template #to="{ row: one }">
          <RouterLink :to="`/insight/${one.to.id}`">{{ one.to.label }}</RouterLink>
        </template>
        <template #outcome="{ row: one }">
          {{ label('state', one.state) }}
          <small
            >{{ one.decidedBy }}{{ one.decidedAt ? `, ${since(one.decidedAt)}` : ''
            }}{{ one.decidedReason ? `: “${one.decidedReason}”` : '' }}</small
          >
        </template></LineTable
      >
    </section>
    <ActDialog
      :open="!!asking"
      :title="asking ? label('transfer', asking.action) : ''"
      :what="
        asking
          ? `${amountText(asking.transfer.amount)} ${answer?.currency} from ${asking.transfer.from.label} to ${asking.transfer.to.label}.`
          : ''
      "
      :button="asking ? label('transfer', asking.action) : ''"
      :busy="busy"
      :reasons="reasons"
      :optional="asking?.action !== 'refuse'"
      @close="asking = undefined"
      @go="go"
    />
  </article>
</template>

<style scoped>
.transfers {
  padding: 20px 28px 60px;
  max-width: 900px;
}
.waiting {
  border-left: 3px solid var(--brass);
  padding: 6px 14px;
  margin: 12px 0;
}
.waiting b {
  font-size: 16px;
}
.gap {
  margin-top: 10px;
}
.form-grid {
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
}
</style>
