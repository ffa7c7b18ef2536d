<script setup lang="ts">
import { ElButton, ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { FindSupplierChoices, type ReadChoices } from '#contract/request/endpoints.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import { countsMoney, isWork, moneyShape, TAX_STATUSES } from '#core/request/kinds.ts'
import { api } from '#web/api.ts'
import InstalmentGrid from '#web/request/InstalmentGrid.vue'
import { type LineProps, useLine } from '#web/request/lineFields.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import FormField from '#web/shared/FormField.vue'
import { day } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** From whom, when, where to, and what else the kind of a line asks for. */
const props = defineProps<
  LineProps & { choices: ResponseOf<typeof ReadChoices> | undefined; facts: LineFacts | undefined }
>()
const emit = defineEmits<{ change: [line: Partial<EditedLine>]; propose: [] }>()
const { has, place, set, setDetails, hints } = useLine(props, emit)
const FEW = 60
const found = shallowRef<ResponseOf<typeof FindSupplierChoices>['suppliers']>([])
const suppliers = computed(() => {
  const known = found.value.length ? found.value : (props.choices?.suppliers.slice(0, FEW) ?? [])
  const own = props.choices?.suppliers.find(one => one.id === props.line.supplierId)
  return own && !known.some(one => one.id === own.id) ? [own, ...known] : known
})
async function findSuppliers(q: string): Promise<void> {
  found.value = q.trim() ? (await api(FindSupplierChoices, { query: { q } })).suppliers : []
}
const purpose = computed(() => (isWork(props.line.kind) ? 'performance' : 'delivery'))
const addresses = computed(() => props.choices?.addresses.filter(one => one.purposes.includes(purpose.value)) ?? [])
const address = computed(() => props.choices?.addresses.find(one => one.id === props.line.addressId))
const past = (date: Date): boolean => date.getTime() < Date.now() - 86_400_000
const early = computed(
  () => props.line.needBy !== null && !!props.facts?.earliest && props.line.needBy < props.facts.earliest,
)
type Person = NonNullable<EditedLine['details']['person']>
const person = computed((): Person => ({ name: '', taxStatus: '', taxNumber: '', ...props.line.details.person }))
const setPerson = (part: Partial<Person>): void => setDetails({ person: { ...person.value, ...part } })
const amount = computed(() => (countsMoney(props.line) ? props.line.quantity : props.line.price))
const setInstalments = (instalments: EditedLine['details']['instalments']): void =>
  set(moneyShape({ ...props.line, details: { ...props.line.details, instalments: instalments ?? [] } }))
</script>

<template>
  <FormField
    v-if="!line.offerId"
    class="wide"
    :label="line.kind === 'personalFee' ? 'Paid to (supplier record)' : 'Supplier'"
    :place="place('supplierId')"
    :help="hints('supplierId')"
    ><ElSelect
      :model-value="line.supplierId"
      filterable
      remote
      :remote-method="findSuppliers"
      clearable
      :value-on-clear="null"
      placeholder="part of the name"
      :data-test="`supplier-${index}`"
      @update:model-value="set({ supplierId: $event })"
      ><ElOption v-for="one in suppliers" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
    ><ElButton link class="propose" :data-test="`propose-${index}`" @click.prevent="emit('propose')"
      >not there? propose it</ElButton
    ></FormField
  >
  <FormField class="two" label="Needed by" :place="place('needBy')" :data-test="`need-by-${index}`"
    ><ElDatePicker
      :model-value="line.needBy ?? ''"
      type="date"
      value-format="YYYY-MM-DD"
      format="D MMM YYYY"
      :disabled-date="past"
      aria-label="Needed by"
      @update:model-value="set({ needBy: $event || null })"
    /><span v-if="facts?.earliest" class="hint" :class="{ 'tone-attention': early }"
      >realistic from {{ day(facts.earliest) }}</span
    ></FormField
  >
  <FormField class="four" :label="isWork(line.kind) ? 'Done at' : 'Deliver to'" :place="place('addressId')"
    ><ElSelect
      :model-value="line.addressId"
      filterable
      default-first-option
      placeholder="site, dock, place, street"
      :data-test="`address-${index}`"
      @update:model-value="set({ addressId: $event })"
      ><ElOption v-for="one in addresses" :key="one.id" :value="one.id" :label="`${one.label} (${one.detail})`"
        ><span>{{ one.label }}</span> <span class="quiet">{{ one.detail }}</span></ElOption
      ><template #label>{{ address?.label }}</template></ElSelect
    ><span v-if="address" class="hint">{{ address.detail }}</span></FormField
  >
  <FormField v-if="has('deliverable')" class="six" label="What is delivered at the end"
    ><ElInput
      :model-value="line.details.deliverable ?? ''"
      type="textarea"
      :rows="1"
      autosize
      maxlength="4000"
      @update:model-value="setDetails({ deliverable: $event })"
  /></FormField>
  <FormField v-if="has('instalments')" class="six" label="Instalments" :place="place('instalments')"
    ><InstalmentGrid
      :model-value="line.details.instalments ?? []"
      :amount="amount"
      :currency="line.currency"
      :index="index"
      @update:model-value="setInstalments([...$event])"
  /></FormField>
  <template v-if="has('person')"
    ><FormField
      class="wide"
      label="Who is paid"
      :place="place('person')"
      help="Only you, those who decide, and those with the right to personal data see who it is."
      ><ElInput
        :model-value="person.name"
        maxlength="200"
        :data-test="`person-${index}`"
        @update:model-value="setPerson({ name: $event })" /></FormField
    ><FormField label="Taxed as"
      ><ElSelect
        :model-value="person.taxStatus"
        :data-test="`tax-${index}`"
        @update:model-value="setPerson({ taxStatus: $event })"
        ><ElOption
          v-for="status in TAX_STATUSES"
          :key="status"
          :value="status"
          :label="laterLabel('tax status', status)" /></ElSelect></FormField
    ><FormField class="two" label="Tax number, if known"
      ><ElInput
        :model-value="person.taxNumber"
        maxlength="60"
        @update:model-value="setPerson({ taxNumber: $event })" /></FormField
  ></template>
</template>

<style scoped>
.hint,
.propose {
  font-size: 11.5px;
}
.hint {
  width: 100%;
  line-height: 1.4;
}
</style>
