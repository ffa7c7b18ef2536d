<script setup lang="ts">
import { ElButton, ElCheckbox, ElCollapse, ElCollapseItem, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, shallowRef } from 'vue'
import { CatalogueFacts, type ItemJson, SearchCatalogue } from '#contract/request/catalogue.ts'
import { SaveItem } from '#contract/request/keeping.ts'
import { api } from '#web/api.ts'
import PackRows from '#web/request/PackRows.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import TermsFields from '#web/shared/TermsFields.vue'
import UnitField from '#web/shared/UnitField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Adds an item to the catalogue, changes one, or copies one. */
const props = defineProps<{ item?: ItemJson | undefined; copy?: boolean; category?: string }>()
const emit = defineEmits<{ close: []; kept: [id: string] }>()
const { busy, reasons, run } = useAction()
const { data: facts } = useRead(CatalogueFacts)
const changes = computed(() => props.item !== undefined && !props.copy)
const form = reactive({
  number: props.copy ? '' : (props.item?.number ?? ''),
  name: props.item?.name ?? '',
  description: props.item?.description ?? '',
  category: props.item?.category ?? props.category ?? '',
  unit: props.item?.unit ?? 'C62',
  gtin: props.copy ? '' : (props.item?.gtin ?? ''),
  maker: props.item?.maker ?? '',
  makerNumber: props.item?.makerNumber ?? '',
  alsoCalled: props.item?.alsoCalled ?? '',
  packs: props.item?.packs ?? [],
  stocked: props.item?.stocked ?? false,
  certified: props.item?.certified ?? false,
  discontinuedOn: props.copy ? null : (props.item?.discontinuedOn ?? null),
  receiving: { ...props.item?.receiving },
  replacedBy: props.copy ? '' : (props.item?.replacedBy?.id ?? ''),
})
const found = shallowRef<readonly { id: string; name: string }[]>(
  props.item?.replacedBy && !props.copy ? [props.item.replacedBy] : [],
)
async function find(q: string): Promise<void> {
  if (q.trim()) found.value = (await api(SearchCatalogue, { query: { q } })).items.filter(one => !one.discontinued)
}
const packs = computed(() => form.packs.filter(pack => pack.holds !== ''))

async function save(): Promise<void> {
  const body = {
    ...form,
    packs: packs.value,
    replacedBy: form.discontinuedOn ? form.replacedBy || null : null,
    id: changes.value ? props.item!.id : null,
    version: changes.value ? props.item!.version : 0,
  }
  const kept = await run(() => api(SaveItem, { body }))
  if (kept) emit('kept', kept.id)
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="changes ? `Item ${item!.number}` : 'A new item'"
    width="640px"
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
      <FormField label="Number" place="number"
        ><ElInput v-model="form.number" maxlength="40" data-test="item-number"
      /></FormField>
      <FormField label="Category" place="category"
        ><ElSelect v-model="form.category" filterable default-first-option data-test="item-category"
          ><ElOption v-for="one in facts?.categories" :key="one.name" :value="one.name" :label="one.name" /></ElSelect
      ></FormField>
      <FormField label="Name" place="name" whole
        ><ElInput v-model="form.name" maxlength="200" data-test="item-name"
      /></FormField>
      <FormField label="Description" place="description" whole
        ><ElInput v-model="form.description" type="textarea" :rows="2" maxlength="4000"
      /></FormField>
      <FormField label="Also called" place="alsoCalled" whole help="Other words that people look for it by."
        ><ElInput v-model="form.alsoCalled" maxlength="200" data-test="item-also"
      /></FormField>
      <FormField label="Counted in" place="unit"><UnitField v-model="form.unit" mark="item-unit" /></FormField>
      <FormField label="GTIN" place="gtin"
        ><ElInput v-model="form.gtin" maxlength="14" inputmode="numeric"
      /></FormField>
      <FormField label="Packs" whole><PackRows v-model="form.packs" :unit="form.unit" /></FormField>
      <FormField label="Maker" place="maker"><ElInput v-model="form.maker" maxlength="200" /></FormField>
      <FormField label="Maker’s number" place="makerNumber"
        ><ElInput v-model="form.makerNumber" maxlength="200"
      /></FormField>
      <p class="bar marks">
        <ElCheckbox v-model="form.stocked" label="stocked" /><ElCheckbox
          v-model="form.certified"
          label="comes with a certificate"
        />
      </p>
      <ElCollapse class="whole"
        ><ElCollapseItem title="How it is received" name="receiving"
          ><div class="receiving"><TermsFields v-model="form.receiving" /></div></ElCollapseItem
      ></ElCollapse>
      <template v-if="changes"
        ><FormField label="Discontinued from" place="discontinuedOn"
          ><DayField
            v-model="form.discontinuedOn"
            label="Discontinued from"
            empty="still bought"
            mark="item-ends" /></FormField
        ><FormField v-if="form.discontinuedOn" label="What takes its place" place="replacedBy"
          ><ElSelect
            v-model="form.replacedBy"
            filterable
            remote
            clearable
            :value-on-clear="''"
            default-first-option
            :remote-method="find"
            placeholder="Find an item"
            data-test="item-after"
            ><ElOption v-for="one in found" :key="one.id" :value="one.id" :label="one.name" /></ElSelect></FormField
      ></template>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-item">Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.receiving {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 16px;
}
.whole {
  grid-column: 1 / -1;
}
.marks {
  grid-column: 1 / -1;
  margin-bottom: 10px;
}
</style>
