<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { WriteAgreement } from '#contract/agreements/agreements.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import { api } from '#web/api.ts'
import CeilingFields from '#web/agreements/CeilingFields.vue'
import { type Agreement, type Content, type ContentLine, freshLine, tiersText } from '#web/agreements/agreementText.ts'
import LineDialog from '#web/agreements/LineDialog.vue'
import CurrencyField from '#web/shared/CurrencyField.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { timeText, unit } from '#web/shared/words.ts'

/** A draft of an agreement, or an amendment of one: everything that it would say. It keeps itself. */
const props = defineProps<{ sheet: Agreement }>()
const emit = defineEmits<{ typing: [now: boolean]; kept: [] }>()
const copy = (content: Content): Content => JSON.parse(JSON.stringify(content)) as Content
const { data: choices } = useRead(ReadChoices)
const { busy, reasons, run } = useAction()
const content = ref<Content>(copy(props.sheet.wanted ?? props.sheet.content))
const editing = ref<ContentLine>()
const keptAt = ref('')
const WAIT = 700
let known = JSON.stringify(content.value)
watch(
  () => props.sheet.version,
  () => {
    if (JSON.stringify(content.value) !== known) return
    content.value = copy(props.sheet.wanted ?? props.sheet.content)
    known = JSON.stringify(content.value)
  },
)
async function keep(): Promise<void> {
  const now = JSON.stringify(content.value)
  if (now === known) return emit('typing', false)
  if (busy.value) return void keepSoon()
  const body = { version: props.sheet.version, content: content.value }
  if (!(await run(() => api(WriteAgreement, { params: { id: props.sheet.id }, body })))) return
  known = now
  keptAt.value = new Date().toISOString()
  emit('kept')
}
const keepSoon = useDebounceFn(() => void keep(), WAIT)
watch(
  content,
  () => {
    if (JSON.stringify(content.value) === known) return
    emit('typing', true)
    void keepSoon()
  },
  { deep: true },
)
function keepLine(line: ContentLine): void {
  const at = content.value.lines.findIndex(one => one.id === line.id)
  if (at < 0) content.value.lines.push(line)
  else content.value.lines[at] = line
  editing.value = undefined
}
function dropLine(id: string): void {
  content.value.lines = content.value.lines.filter(line => line.id !== id)
  content.value.ceilings = content.value.ceilings.filter(one => one.lineId !== id)
}
const priceOf = ({ pricing }: ContentLine): string =>
  pricing.kind === 'tiers'
    ? tiersText(pricing.tiers)
    : pricing.kind === 'periods'
      ? `${pricing.periods.length} periods`
      : `${pricing.index || 'an index'}, base ${pricing.basePrice}`
const warn = (percent: string): void => {
  content.value.warnPercent = Math.round(Number(percent) || 0)
}
const places = computed(() => choices.value?.addresses ?? [])
</script>

<template>
  <section class="section" data-test="agreement-editor">
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="keep">
      <FormField label="Title" place="title" whole
        ><ElInput v-model="content.title" maxlength="200" data-test="agreement-title"
      /></FormField>
      <FormField label="Begins" place="startsOn"><DayField v-model="content.startsOn" label="Begins" /></FormField>
      <FormField label="Ends" place="endsOn"
        ><DayField v-model="content.endsOn" label="Ends" mark="agreement-ends"
      /></FormField>
      <FormField label="Counted in" place="currency"
        ><CurrencyField v-model="content.currency" :disabled="sheet.revision > 0"
      /></FormField>
      <FormField label="Above a ceiling"
        ><ElSelect v-model="content.whenOver" aria-label="Above a ceiling"
          ><ElOption value="stop" label="it is stopped" /><ElOption value="check" label="it wants a reason" /></ElSelect
      ></FormField>
      <FormField label="Incoterm"
        ><ElSelect v-model="content.incoterm" clearable :value-on-clear="''" aria-label="Incoterm"
          ><ElOption v-for="one in INCOTERMS" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <FormField label="Place"><ElInput v-model="content.incotermPlace" maxlength="200" /></FormField>
      <FormField label="Only for cost centres" help="Empty: for all."
        ><ElSelect v-model="content.callers.costCentres" multiple filterable aria-label="Only for cost centres"
          ><ElOption
            v-for="one in choices?.costCentres"
            :key="one.code"
            :value="one.code"
            :label="`${one.code} ${one.name}`" /></ElSelect
      ></FormField>
      <FormField label="Only to places" help="Empty: to all."
        ><ElSelect v-model="content.callers.addressIds" multiple filterable aria-label="Only to places"
          ><ElOption v-for="one in places" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ></FormField>
      <FormField label="Only by" help="Empty: by everybody."
        ><ElSelect v-model="content.callers.personIds" multiple filterable aria-label="Only by"
          ><ElOption v-for="one in choices?.people" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ></FormField>
      <FormField label="Warn at, per cent of a ceiling"
        ><NumberField
          :model-value="String(content.warnPercent)"
          label="Warn at, per cent of a ceiling"
          @update:model-value="warn"
      /></FormField>
      <FormField label="Service level" whole
        ><ElInput v-model="content.serviceLevel" type="textarea" :rows="2" maxlength="4000"
      /></FormField>
      <FormField label="Terms" whole
        ><ElInput v-model="content.terms" type="textarea" :rows="2" maxlength="4000"
      /></FormField>
    </EntryForm>
    <h2>What is agreed</h2>
    <LineTable
      v-if="content.lines.length"
      :rows="content.lines"
      :columns="
        lineColumns({ '!what': 'What', '#price': 'Price', '#least': 'Least', '#lead': 'Lead time', '-acts': 'Acts' })
      "
      label="Lines of the agreement"
      :key-of="line => line.id"
      ><template #what="{ row: line, index }"
        ><ElButton link :data-test="`agreement-line-${index}`" @click="editing = line">{{
          line.description || 'without words'
        }}</ElButton></template
      >
      <template #price="{ row: line }"
        >{{ priceOf(line) }} <small class="unit">{{ line.currency }}</small></template
      >
      <template #least="{ row: line }"
        >{{ line.minimum }} <small class="unit">{{ unit(line.unit) }}</small></template
      >
      <template #lead="{ row: line }">{{ line.leadTimeDays }} <small class="unit">days</small></template>
      <template #acts="{ row: line, index }"
        ><ElButton link :aria-label="`Take out line ${index + 1}`" @click="dropLine(line.id)"
          >take out</ElButton
        ></template
      ></LineTable
    >
    <p v-else class="empty">Nothing is agreed yet: add a line.</p>
    <p class="bar">
      <ElButton data-test="add-agreement-line" @click="editing = freshLine(content.currency)">Add a line</ElButton>
      <span v-if="keptAt" class="quiet">kept {{ timeText(keptAt) }}</span>
    </p>
    <h2>How much may be called off</h2>
    <CeilingFields v-model="content.ceilings" :content="content" />
    <LineDialog
      v-if="editing"
      :line="editing"
      :starts-on="content.startsOn"
      :categories="choices?.categories ?? []"
      :item-name="sheet.names[editing.itemId ?? ''] ?? ''"
      @close="editing = undefined"
      @keep="keepLine"
    />
  </section>
</template>
