<script setup lang="ts">
import '#contract/messages/billing.ts'
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import {
  AgreeInDispute,
  type DisputeJson,
  DropDispute,
  OpenDispute,
  SayInDispute,
  SupplierAgrees,
  SupplierSays,
} from '#contract/bill/disputes.ts'
import { type Outcome, OUTCOMES } from '#core/bill/disputeFacts.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import { useAction } from '#web/shared/useAction.ts'
import { since } from '#web/shared/words.ts'

/** What both sides say about an invoice, and what they agree on; the same on ours and on the supplier's pages. */
const props = defineProps<{
  invoiceId: string
  version: number
  disputes: readonly DisputeJson[]
  side: 'house' | 'supplier'
  /** A new one can be opened. */
  mayOpen?: boolean
}>()
const emit = defineEmits<{ changed: [] }>()
const { busy, reasons, run, clear } = useAction()
const text = ref('')
const outcome = ref<Outcome | ''>('')
const opening = ref(false)
const current = computed(() => props.disputes.find(one => one.state === 'open'))
const OUTCOME_WORDS: Record<Outcome, () => string> = {
  payAll: () => t('It is paid as it is billed'),
  creditNote: () => t('The supplier writes a credit note'),
  newInvoice: () => t('The supplier sends another invoice'),
}
const outcomeText = (code: string): string => OUTCOME_WORDS[code as Outcome]()
const at = computed(() => ({ params: { id: props.invoiceId } }))

async function done(made: unknown): Promise<void> {
  if (!made) return
  text.value = ''
  outcome.value = ''
  opening.value = false
  emit('changed')
}
async function write(): Promise<void> {
  const body = { version: props.version, text: text.value, outcome: outcome.value === '' ? null : outcome.value }
  const open = { version: props.version, text: text.value }
  await done(
    await run(() =>
      props.side === 'supplier'
        ? api(SupplierSays, { ...at.value, body })
        : current.value
          ? api(SayInDispute, { ...at.value, body })
          : api(OpenDispute, { ...at.value, body: open }),
    ),
  )
}
async function agree(): Promise<void> {
  const body = { version: props.version }
  await done(
    await run(() =>
      props.side === 'supplier'
        ? api(SupplierAgrees, { ...at.value, body })
        : api(AgreeInDispute, { ...at.value, body }),
    ),
  )
}
async function drop(): Promise<void> {
  await done(await run(() => api(DropDispute, { ...at.value, body: { version: props.version, reason: text.value } })))
}
function begin(): void {
  clear()
  opening.value = true
}
</script>

<template>
  <section v-if="disputes.length || mayOpen" class="section talk" data-test="dispute">
    <h2 v-if="disputes.length || opening">
      {{ side === 'house' ? t('Dispute with the supplier') : t('Questions about it') }}
    </h2>
    <template v-for="one in disputes" :key="one.id"
      ><p class="quiet">
        {{
          one.state === 'agreed'
            ? t('Agreed {when}: {outcome}.', { when: since(one.endedAt!), outcome: outcomeText(one.outcome!) })
            : one.state === 'dropped'
              ? t('Ended without an agreement {when}.', { when: since(one.endedAt!) })
              : t('Open since {when}.', { when: since(one.openedAt) })
        }}
      </p>
      <ol class="said">
        <li v-for="message in one.messages" :key="message.id" :class="{ mine: message.mine }">
          <p class="quiet">{{ message.who }}, {{ since(message.at) }}</p>
          <p class="words">{{ message.text }}</p>
          <p v-if="message.outcome">
            <b>{{ t('Proposed: {outcome}.', { outcome: outcomeText(message.outcome) }) }}</b>
          </p>
        </li>
      </ol></template
    >
    <p v-if="current?.toAgree" class="bar">
      <ElButton type="primary" :disabled="busy" data-test="dispute-agree" @click="agree">{{
        t('Agree: {outcome}', { outcome: outcomeText(current.toAgree) })
      }}</ElButton>
    </p>
    <p v-if="current?.ours" class="quiet">{{ t('The other side has to agree.') }}</p>
    <EntryForm v-if="current || opening" :reasons="reasons" :busy="busy" @submit="write">
      <FormField :label="current ? t('Your answer') : t('What is it about?')" place="text"
        ><ElInput v-model="text" type="textarea" :rows="3" maxlength="4000" data-test="dispute-text"
      /></FormField>
      <FormField v-if="current" :label="t('What could be agreed')"
        ><ElSelect
          v-model="outcome"
          clearable
          :placeholder="t('nothing yet')"
          data-test="dispute-outcome"
          @clear="outcome = ''"
          ><ElOption v-for="code in OUTCOMES" :key="code" :value="code" :label="outcomeText(code)" /></ElSelect
      ></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="dispute-send">{{
          current ? t('Send') : t('Ask the supplier')
        }}</ElButton
        ><ElButton v-if="current && side === 'house'" :disabled="busy" data-test="dispute-drop" @click="drop">{{
          t('End it without an agreement')
        }}</ElButton
        ><ElButton v-if="!current" @click="opening = false">{{ t('Leave it') }}</ElButton></template
      >
    </EntryForm>
    <ElButton v-else-if="mayOpen" size="small" data-test="dispute-open" @click="begin">{{
      t('Ask the supplier about it')
    }}</ElButton>
  </section>
</template>

<style scoped>
.said {
  list-style: none;
  padding: 0;
  max-width: 720px;
}
.said li {
  border-left: 3px solid var(--rule);
  padding: 2px 12px;
  margin: 10px 0;
}
.said li.mine {
  border-left-color: var(--kelp, var(--rule));
  margin-left: 24px;
}
.words {
  white-space: pre-line;
}
.talk :deep(.el-textarea) {
  max-width: 720px;
}
</style>
