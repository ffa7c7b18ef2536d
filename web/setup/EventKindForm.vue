<script setup lang="ts">
import '#web/theme/later.scss'
import { ElButton, ElCheckbox, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { BodyOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { SaveEventKind } from '#contract/source/eventKinds.ts'
import { OUTCOMES_TOLD, PRICE_MODELS } from '#core/source/eventKind.ts'
import { PRICE_FORMULAS } from '#core/source/scores.ts'
import { api } from '#web/api.ts'
import EventKindMessages from '#web/setup/EventKindMessages.vue'
import EventKindParts from '#web/setup/EventKindParts.vue'
import EventKindQuestions from '#web/setup/EventKindQuestions.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** A kind of event as a draft; what is wrong with it is said, and stops its being put to use. */
type Body = BodyOf<typeof SaveEventKind>
const props = defineProps<{
  kind: Omit<Body, 'range' | 'outside'> & {
    range: Body['range'] & { shown?: string }
    outside: (Body['range'] & { shown?: string }) | null
  }
}>()
const emit = defineEmits<{ close: []; kept: [] }>()
const { busy, reasons, run } = useAction()
const found = ref<readonly ReasonJson[]>([])
const plain = ({ prefix, digits, next, last }: Body['range']): Body['range'] => ({ prefix, digits, next, last })
const body = reactive<Body>({
  ...props.kind,
  range: plain(props.kind.range),
  outside: props.kind.outside && plain(props.kind.outside),
})
const settings = body.settings
let version = props.kind.version
const shown = computed(() => (reasons.value.length ? reasons.value : found.value))
const QUESTIONS = 'questions'
const weightOf = (key: string): string => settings.criteria.find(one => one.key === key)?.weight ?? '0'
function weigh(key: string, weight: string): void {
  settings.criteria = [...settings.criteria.filter(one => one.key !== key), { key, weight }].filter(
    one => one.weight !== '0',
  )
}
const toggleOutside = (): void => {
  body.outside = body.outside === null ? { prefix: 'X-', digits: 0, next: '1', last: '9999' } : null
}
async function keep(): Promise<void> {
  const done = await run(() => api(SaveEventKind, { body: { ...body, version } }))
  if (!done) return
  version = done.version
  found.value = done.reasons
  if (done.reasons.length === 0) emit('kept')
}
</script>

<template>
  <EntryForm :reasons="shown" :busy="busy" @submit="keep">
    <div class="fields">
      <FormField label="Name" place="name"><ElInput v-model="body.name" data-test="kind-name" /></FormField>
      <FormField label="Suppliers are asked"
        ><ElSelect v-model="settings.format" aria-label="Suppliers are asked" data-test="kind-format"
          ><ElOption value="quotes" :label="laterLabel('event format', 'quotes')" /><ElOption
            value="auction"
            :label="laterLabel('event format', 'auction')" /></ElSelect></FormField
      ><FormField label="For"
        ><ElSelect v-model="settings.bought" aria-label="For"
          ><ElOption value="goods" label="goods" /><ElOption value="work" label="work" /></ElSelect></FormField
      ><FormField label="Price" place="pricing"
        ><ElSelect v-model="settings.pricing" aria-label="Price" data-test="kind-pricing"
          ><ElOption
            v-for="one in PRICE_MODELS"
            :key="one"
            :value="one"
            :label="laterLabel('event price', one)" /></ElSelect></FormField
      ><FormField label="Days for answering"
        ><ElInputNumber
          v-model="settings.daysOpen"
          :min="1"
          :max="365"
          :controls="false"
          aria-label="Days for answering" /></FormField
      ><FormField label="Who does not win learns"
        ><ElSelect v-model="settings.tells" aria-label="Who does not win learns"
          ><ElOption
            v-for="one in OUTCOMES_TOLD"
            :key="one"
            :value="one"
            :label="laterLabel('event tells', one)" /></ElSelect
      ></FormField>
    </div>
    <p class="checks">
      <ElCheckbox v-model="settings.sealed" label="sealed until the end" data-test="kind-sealed" /><ElCheckbox
        v-model="settings.open"
        label="open to every qualified supplier of the category"
      /><ElCheckbox v-model="settings.partQuantity" label="parts of a quantity may be offered" /><ElCheckbox
        v-model="settings.alternatives"
        label="alternatives may be offered"
      /><ElCheckbox v-model="settings.supplierLines" label="suppliers may add lines" />
    </p>
    <h3>Numbers</h3>
    <div class="fields">
      <FormField label="Begin with" place="prefix"><ElInput v-model="body.range.prefix" /></FormField>
      <FormField label="Next" place="next"><ElInput v-model="body.range.next" /></FormField>
      <FormField label="Last" place="last"><ElInput v-model="body.range.last" /></FormField>
      <FormField label="Digits at least"
        ><ElInputNumber
          v-model="body.range.digits"
          :min="0"
          :max="12"
          :controls="false"
          aria-label="Digits at least" /></FormField
      ><FormField label="Beside them"
        ><ElCheckbox
          :model-value="body.outside !== null"
          label="a number from outside"
          @change="toggleOutside" /></FormField
      ><template v-if="body.outside"
        ><FormField label="From outside, begin with"><ElInput v-model="body.outside.prefix" /></FormField
        ><FormField label="From outside, last"><ElInput v-model="body.outside.last" /></FormField
      ></template>
    </div>
    <EventKindParts v-model="body.settings" />
    <EventKindMessages v-model="body.settings" />
    <EventKindQuestions v-model="body.settings" />
    <h3>Judged by</h3>
    <div class="fields">
      <FormField label="Price, per cent" place="criteria"
        ><NumberField
          :model-value="weightOf('price')"
          label="Price, per cent"
          width="90px"
          @update:model-value="weigh('price', $event)" /></FormField
      ><FormField label="Questions, per cent"
        ><NumberField
          :model-value="weightOf(QUESTIONS)"
          label="Questions, per cent"
          width="90px"
          @update:model-value="weigh(QUESTIONS, $event)" /></FormField
      ><FormField label="Points for the price" whole
        ><ElSelect v-model="settings.formula" aria-label="Points for the price"
          ><ElOption
            v-for="one in PRICE_FORMULAS"
            :key="one"
            :value="one"
            :label="laterLabel('price formula', one)" /></ElSelect></FormField
      ><FormField label="Insurance, per cent"
        ><NumberField v-model="settings.landed.insurancePercent" label="Insurance, per cent" width="90px" /></FormField
      ><FormField label="Of"
        ><ElSelect v-model="settings.landed.insured" aria-label="Insured"
          ><ElOption value="1" label="the value" /><ElOption
            value="1.1"
            label="110 per cent of it" /></ElSelect></FormField
      ><FormField label="Duty is taken on"
        ><ElSelect v-model="settings.landed.dutyOn" aria-label="Duty is taken on"
          ><ElOption value="goods" label="the goods" /><ElOption
            value="goodsFreightInsurance"
            label="goods, freight and insurance" /></ElSelect></FormField
      ><FormField label="Interest a year, per cent"
        ><NumberField
          v-model="settings.landed.interestPercent"
          label="Interest a year, per cent"
          width="90px" /></FormField
      ><FormField label="Reckoned"
        ><ElSelect v-model="settings.landed.interest" aria-label="Reckoned"
          ><ElOption value="simple" label="simply" /><ElOption
            value="compound"
            label="with interest on interest" /></ElSelect
      ></FormField>
    </div>
    <h3>Terms that are accepted before answering</h3>
    <div class="fields">
      <FormField label="English" place="terms" whole
        ><ElInput v-model="settings.terms.en" type="textarea" :rows="3"
      /></FormField>
      <FormField label="German" whole><ElInput v-model="settings.terms.de" type="textarea" :rows="3" /></FormField>
    </div>
    <p class="bar">
      <ElButton type="primary" native-type="submit" :disabled="busy || body.name.trim() === ''" data-test="keep-kind"
        >Keep the draft</ElButton
      ><ElButton @click="emit('close')">Leave it</ElButton>
    </p>
  </EntryForm>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(220px, 1fr));
  gap: 2px 18px;
}
.checks {
  display: flex;
  flex-wrap: wrap;
  gap: 0 18px;
}
h3 {
  margin: 14px 0 4px;
}
</style>
