<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { BankMessageFile, ReadBankMessage, SettleBankItem } from '#contract/pay/endpoints.ts'
import { api, pathOf } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, since, words } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

const session = useSession()

/** One message of the bank: what it says, what became of it, and what a person still has to look at. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const { sheet, failure, reload } = useSheet(ReadBankMessage, id)
const { busy, reasons, run, clear } = useAction()
const settling = ref('')
const open = computed(() => sheet.value?.items.filter(one => one.effect === 'open' && !one.settled).length ?? 0)

async function settle(note: string): Promise<void> {
  const params = { id: id.value, itemId: settling.value }
  if (!(await run(() => api(SettleBankItem, { params, body: { version: sheet.value!.version, note } })))) return
  settling.value = ''
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <article v-else-if="sheet" class="message">
    <p class="quiet">
      <b>Bank’s message {{ sheet.messageId }}</b
      >, {{ sheet.kind || 'unreadable' }}, taken in {{ since(sheet.at) }}.
      <a v-if="session.may('payment.approve')" :href="pathOf(BankMessageFile, { id })" download data-test="message-file"
        >See the file</a
      >
    </p>
    <h1>{{ sheet.kind ? `${sheet.kind} ${sheet.messageId}` : sheet.name }}</h1>
    <p :class="open ? 'tone-attention' : 'tone-settled'" data-test="state">
      {{
        open === 0
          ? laterLabel('bank message', sheet.state)
          : open === 1
            ? 'One thing in it could not be assigned. Look at it and say what you did.'
            : `${open} things in it could not be assigned. Look at each and say what you did.`
      }}
    </p>
    <ReasonList :reasons="sheet.faults" />
    <LineTable
      class="section"
      v-if="sheet.items.length"
      :rows="sheet.items"
      :columns="
        lineColumns({
          about: 'About',
          says: 'It says',
          '#amount': 'Amount',
          payment: 'Payment',
          became: 'What became of it',
        })
      "
      label="What the bank says"
      :key-of="one => one.id"
      ><template #about="{ row: one }"
        >{{ laterLabel('bank level', one.level) }}<small>{{ one.reference }}</small></template
      >
      <template #says="{ row: one }"
        >{{ laterLabel('bank outcome', one.outcome)
        }}<small>{{ [one.status, one.reasonCode].filter(Boolean).join(', ') }}</small></template
      >
      <template #amount="{ row: one }"
        ><template v-for="amount in one.amounts" :key="amount.currency + amount.amount"
          >{{ amountText(amount.amount) }} <span class="unit">{{ amount.currency }}</span><br /></template
        ><small v-if="one.date">{{ day(one.date) }}</small></template
      >
      <template #payment="{ row: one }"
        ><template v-for="payment in one.payments" :key="payment.endToEndId"
          ><RouterLink :to="payment.path">{{ payment.runNumber }}</RouterLink
          ><small>{{ payment.endToEndId }}</small></template
        ></template
      >
      <template #became="{ row: one }"
        ><span :class="{ 'tone-attention': one.effect === 'open' && !one.settled }"
          >{{ one.why ? words(one.why) : laterLabel('bank effect', one.effect) }}
          <small v-if="one.settled">{{ one.settled.by }}, {{ since(one.settled.at) }}: “{{ one.settled.note }}”</small>
          <ElButton
            v-else-if="one.effect === 'open' && sheet.maySettle"
            size="small"
            :disabled="busy"
            data-test="settle-item"
            @click="
              () => {
                clear()
                settling = one.id
              }
            "
            >Dealt with</ElButton
          ></span
        ></template
      ></LineTable
    >
    <ActDialog
      :open="settling !== ''"
      title="Dealt with"
      what="It leaves the Desks. Nothing is posted by this: say what you found and what you did, such as asking the bank."
      button="Dealt with"
      :busy="busy"
      :reasons="reasons"
      @close="settling = ''"
      @go="settle"
    />
  </article>
</template>

<style scoped>
.message {
  padding: 18px 28px 40px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
</style>
