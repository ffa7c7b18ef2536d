<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { type ListCategories, SaveCategory } from '#contract/source/onboarding.ts'
import { KINDS, LINE_KINDS, type LineKind, type Proof } from '#core/request/kinds.ts'
import { whyNotHang } from '#core/source/categories.ts'
import { SIGNAL_KEYS, SIGNAL_RULES, type SignalKey } from '#core/source/signals.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import TermsFields from '#web/shared/TermsFields.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** A category: who looks after it and buys it, what it hangs under, what is asked of those who sell it. */
type Known = ResponseOf<typeof ListCategories>
const props = defineProps<{ known: Known; one?: Known['categories'][number] | undefined }>()
const emit = defineEmits<{ close: []; kept: [] }>()
const { busy, reasons, run } = useAction()
const { data: choices } = useRead(ReadChoices)
const form = reactive<Required<BodyOf<typeof SaveCategory>>>({
  name: props.one?.name ?? '',
  ownerId: props.one?.ownerId ?? null,
  needsFinance: props.one?.needsFinance ?? true,
  certificates: (props.one?.certificates ?? []).map(rule => ({ ...rule })),
  thresholds: { ...props.one?.thresholds },
  version: props.one?.version ?? 0,
  parent: props.one?.parent ?? null,
  naturalAccount: props.one?.naturalAccount ?? null,
  proof: { ...props.one?.proof },
  buyers: [...(props.one?.buyers ?? [])],
  receiving: { ...props.one?.receiving },
})
const accounts = computed(() => [...new Set(choices.value?.accounts.map(one => one.naturalAccount))].sort())
const above = computed(() =>
  props.known.categories.filter(one => whyNotHang(form.name, one.name, props.known.categories).length === 0),
)
async function save(): Promise<void> {
  const thresholds = Object.fromEntries(Object.entries(form.thresholds).filter(([, value]) => value !== ''))
  if (await run(() => api(SaveCategory, { body: { ...form, thresholds } }))) emit('kept')
}
const setProof = (kind: LineKind, proof: Proof | ''): void => {
  const { [kind]: _, ...others } = form.proof
  form.proof = proof ? { ...others, [kind]: proof } : others
}
const setThreshold = (key: SignalKey, value: string): void => {
  form.thresholds = { ...form.thresholds, [key]: value }
}
</script>

<template>
  <ElDialog :model-value="true" :title="one ? one.name : 'A new category'" width="680px" @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
      <FormField v-if="!one" label="Name" place="name"
        ><ElInput v-model="form.name" maxlength="200" data-test="category-name" /></FormField
      ><FormField label="Owner" place="ownerId" help="Decides on new suppliers in it"
        ><ElSelect
          v-model="form.ownerId"
          clearable
          filterable
          default-first-option
          :value-on-clear="null"
          placeholder="nobody"
          ><ElOption
            v-for="person in known.people"
            :key="person.id"
            :value="person.id"
            :label="person.name" /></ElSelect
        ><ElCheckbox v-model="form.needsFinance" label="finance decides too" /></FormField
      ><FormField label="Hangs under" place="parent"
        ><ElSelect
          v-model="form.parent"
          clearable
          filterable
          default-first-option
          :value-on-clear="null"
          placeholder="nothing"
          data-test="category-parent"
          ><ElOption
            v-for="other in above"
            :key="other.name"
            :value="other.name"
            :label="other.name" /></ElSelect></FormField
      ><FormField label="Account that is proposed" place="naturalAccount"
        ><ElSelect
          v-model="form.naturalAccount"
          clearable
          filterable
          default-first-option
          :value-on-clear="null"
          placeholder="none"
          ><ElOption
            v-for="account in accounts"
            :key="account"
            :value="account"
            :label="account" /></ElSelect></FormField
      ><FormField label="Who buys it" place="buyers"
        ><ElSelect v-model="form.buyers" multiple filterable default-first-option collapse-tags
          ><ElOption
            v-for="buyer in choices?.buyers"
            :key="buyer.id"
            :value="buyer.id"
            :label="buyer.label" /></ElSelect
      ></FormField>
      <h3 class="sub">How it is proven, where otherwise than usual</h3>
      <FormField v-for="kind in LINE_KINDS" :key="kind" :label="label('kind', kind)"
        ><ElSelect
          :model-value="form.proof[kind] ?? ''"
          clearable
          :value-on-clear="''"
          :placeholder="label('proof', KINDS[kind].proofs[0]!)"
          @update:model-value="setProof(kind, $event)"
          ><ElOption
            v-for="proof in KINDS[kind].proofs"
            :key="proof"
            :value="proof"
            :label="label('proof', proof)" /></ElSelect
      ></FormField>
      <h3 class="sub">How its goods are received</h3>
      <TermsFields v-model="form.receiving" />
      <h3 class="sub">Certificates that are asked for</h3>
      <p
        v-for="(rule, index) in form.certificates"
        :key="index"
        class="bar whole"
        :data-place="`certificates.${index}`"
      >
        <ElInput v-model="rule.kind" aria-label="Certificate" style="width: 260px" /><ElSelect
          v-model="rule.lapse"
          style="width: 170px"
          aria-label="When it is missing"
          ><ElOption
            v-for="level in ['note', 'check', 'stop'] as const"
            :key="level"
            :value="level"
            :label="laterLabel('lapse', level)" /></ElSelect
        ><ElButton link @click="form.certificates.splice(index, 1)">take out</ElButton>
      </p>
      <p class="whole">
        <ElButton link @click="form.certificates.push({ kind: '', lapse: 'check' })">Add one</ElButton>
      </p>
      <h3 class="sub">Thresholds of signals</h3>
      <FormField
        v-for="key in SIGNAL_KEYS"
        :key="key"
        :label="`${laterLabel('signal', key)}, ${SIGNAL_RULES[key].direction === 'atLeast' ? 'at least' : 'at most'}`"
        :place="`thresholds.${key}`"
        ><ElInput
          :model-value="form.thresholds[key] ?? ''"
          :placeholder="`${SIGNAL_RULES[key].threshold}, as usual`"
          @update:model-value="setThreshold(key, $event)"
      /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy || !form.name" data-test="save-category"
          >Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.sub,
.whole {
  grid-column: 1 / -1;
}
.sub {
  margin: 14px 0 6px;
}
</style>
