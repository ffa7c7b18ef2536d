<script setup lang="ts">
import {
  ElButton,
  ElCheckbox,
  ElCheckboxGroup,
  ElDialog,
  ElInput,
  ElOption,
  ElRadio,
  ElRadioGroup,
  ElSelect,
} from 'element-plus'
import { computed, reactive } from 'vue'
import { type AwayJson, SaveAway } from '#contract/consent/endpoints.ts'
import { STOOD_IN_KINDS, type StoodInKind } from '#core/consent/standIns.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'

/** Enters or changes one away time. */
const props = defineProps<{
  time: AwayJson | undefined
  people: readonly { id: string; label: string }[]
  currency: string
}>()
const emit = defineEmits<{ done: []; close: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const id = props.time?.id ?? crypto.randomUUID()
const form = reactive({
  personId: props.time?.person.id ?? session.person!.id,
  standInId: props.time?.standIn?.id ?? '',
  fromDay: props.time?.fromDay ?? session.today,
  toDay: props.time?.toDay ?? session.today,
  kinds: [...(props.time?.kinds ?? [])] as StoodInKind[],
  limit: props.time?.limit ?? '',
  away: props.time?.away ?? true,
  note: props.time?.note ?? '',
})
const others = computed(() => props.people.filter(one => one.id !== form.personId))
async function save(): Promise<void> {
  const body = {
    ...form,
    version: props.time?.version ?? 0,
    standInId: form.standInId || null,
    limit: form.standInId && form.limit ? form.limit : null,
    kinds: form.standInId ? form.kinds : [],
  }
  if (await run(() => api(SaveAway, { params: { id }, body }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="Away, and who decides meanwhile" width="540px" @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
      <FormField v-if="session.may('requisition.passOn')" label="Who" place="personId" whole
        ><ElSelect v-model="form.personId" filterable default-first-option data-test="away-person"
          ><ElOption v-for="one in people" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ></FormField>
      <FormField label="From" place="fromDay"
        ><DayField v-model="form.fromDay" label="From" mark="away-from"
      /></FormField>
      <FormField label="To, that day included" place="toDay"
        ><DayField v-model="form.toDay" label="To" mark="away-to"
      /></FormField>
      <FormField label="Decides meanwhile" place="standInId" whole
        ><ElSelect
          v-model="form.standInId"
          filterable
          default-first-option
          clearable
          placeholder="nobody"
          data-test="away-stand-in"
          ><ElOption v-for="one in others" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ></FormField>
      <template v-if="form.standInId">
        <FormField label="Which decisions" help="None chosen: all of them"
          ><ElCheckboxGroup v-model="form.kinds"
            ><ElCheckbox v-for="kind in STOOD_IN_KINDS" :key="kind" :value="kind" :label="label('stood in', kind)"
          /></ElCheckboxGroup>
        </FormField>
        <FormField :label="`Up to, ${currency}`" place="limit" help="Empty: as far as the person themselves"
          ><NumberField v-model="form.limit" label="Up to" width="140px" data-test="away-limit"
        /></FormField>
        <FormField label="Meanwhile the person themselves" whole
          ><ElRadioGroup v-model="form.away"
            ><ElRadio :value="true">is away</ElRadio
            ><ElRadio :value="false">is there and decides, too</ElRadio></ElRadioGroup
          ></FormField
        >
      </template>
      <FormField label="Note" place="note" whole><ElInput v-model="form.note" maxlength="300" /></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-away">Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
