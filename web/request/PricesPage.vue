<script setup lang="ts">
import { ElButton, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { CatalogueFacts } from '#contract/request/catalogue.ts'
import {
  ChangePrices,
  PreviewPrices,
  type PriceDifferences,
  ReadPriceList,
  TakePriceList,
} from '#contract/request/keeping.ts'
import { api, upload } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import PriceDifferencesTable from '#web/request/PriceDifferencesTable.vue'
import TakePricesForm from '#web/request/TakePricesForm.vue'
import SupplierField from '#web/shared/SupplierField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day } from '#web/shared/words.ts'

/**
 * Many prices of one supplier at once: their price list taken in, or all changed by a percentage. Nothing counts
 * before its differences were seen.
 */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const { data: facts } = useRead(CatalogueFacts)
const how = ref<'list' | 'percent'>('list')
const form = reactive({ supplierId: '', category: '', percent: '', places: '2' })
const fileId = ref('')
const fileName = ref('')
const seen = shallowRef<PriceDifferences>()
const done = ref('')
watch([() => ({ ...form }), how], () => {
  seen.value = undefined
  done.value = ''
  clear()
})
const change = computed(() => ({
  supplierId: form.supplierId,
  category: form.category,
  percent: form.percent,
  places: Number(form.places),
}))

const look = (): Promise<unknown> =>
  run(async () => {
    done.value = ''
    seen.value = undefined
    seen.value =
      how.value === 'percent'
        ? await api(PreviewPrices, { body: change.value })
        : await api(ReadPriceList, { body: { supplierId: form.supplierId, fileId: fileId.value } })
  })
async function chosen([file]: readonly File[]): Promise<void> {
  if (!file) return
  const sent = await run(() => upload(file))
  if (!sent) return
  fileId.value = sent.id
  fileName.value = file.name
  await look()
}
async function take(asked: { from: string; reason: string; endMissing: boolean }): Promise<void> {
  const { stamp } = seen.value!
  const { from, reason } = asked
  const answer = await run(() =>
    how.value === 'percent'
      ? api(ChangePrices, { body: { ...change.value, stamp, from, reason } })
      : api(TakePriceList, { body: { supplierId: form.supplierId, fileId: fileId.value, stamp, ...asked } }),
  )
  if (!answer) return
  const when = from === session.today ? 'from today' : `from ${day(from)}`
  done.value = `New prices of ${answer.offers} offers hold ${when}${answer.ended ? `; ${answer.ended} offers end before` : ''}.`
  seen.value = undefined
}
</script>

<template>
  <main class="prices">
    <p><RouterLink to="/request/catalogue" class="quiet">Catalogue</RouterLink></p>
    <h1>Prices of a supplier</h1>
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="how === 'percent' && look()">
      <FormField label="Supplier" place="supplierId"
        ><SupplierField v-model="form.supplierId" mark="prices-supplier"
      /></FormField>
      <FormField label="What changes them"
        ><ElRadioGroup v-model="how"
          ><ElRadio value="list">their price list</ElRadio
          ><ElRadio value="percent" data-test="by-percent">a percentage</ElRadio></ElRadioGroup
        ></FormField
      >
      <template v-if="how === 'percent'"
        ><FormField label="Category" place="category"
          ><ElSelect v-model="form.category" clearable :value-on-clear="''" filterable placeholder="all of them"
            ><ElOption
              v-for="one in facts?.categories"
              :key="one.name"
              :value="one.name"
              :label="one.name" /></ElSelect></FormField
        ><FormField label="Percent" place="percent" help="Below zero they fall."
          ><NumberField v-model="form.percent" label="Percent" data-test="percent" /></FormField
        ><FormField label="Digits after the point" place="places"
          ><NumberField v-model="form.places" label="Digits after the point"
        /></FormField>
        <p class="bar">
          <ElButton
            native-type="submit"
            :disabled="busy || !form.supplierId || !form.percent"
            data-test="preview-prices"
            >See what would change</ElButton
          >
        </p></template
      >
      <FormField
        v-else-if="form.supplierId"
        label="Their list"
        place="fileId"
        help="CSV or XLSX with supplier_item (or item, or gtin) and price; if you like price_base, currency, unit, tiers (100=4.20|500=3.95)."
        ><FileField
          :label="fileName ? `Another file than ${fileName}` : 'Choose a file, or drop it here'"
          accept=".csv,.txt,.xlsx,text/csv"
          mark="price-list"
          :busy="busy"
          @choose="chosen"
      /></FormField>
    </EntryForm>
    <p v-if="done" class="tone-settled" role="status" data-test="prices-done">{{ done }}</p>
    <p v-else-if="busy" role="status">Reading …</p>
    <p v-else-if="!form.supplierId" class="empty">
      Choose a supplier: their list is held against what they offer us, row by row, before anything counts.
    </p>
    <template v-if="seen"
      ><TakePricesForm :seen="seen" :busy="busy" @take="take" /><PriceDifferencesTable :seen="seen"
    /></template>
  </main>
</template>

<style scoped>
.prices {
  flex: 1;
  overflow: auto;
  padding: 16px 26px 50px;
}
h1 {
  margin: 4px 0 14px;
}
.bar {
  align-self: end;
  margin-bottom: 12px;
}
</style>
