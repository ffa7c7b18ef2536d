<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { PriceIndices, SaveIndex } from '#contract/agreements/agreements.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { priceText, stamp } from '#web/shared/words.ts'

/** Indices that prices of agreements follow, with their values month by month; what was published anew replaces, and stays readable. */
const session = useSession()
const { data, reload } = useRead(PriceIndices)
const { busy, reasons, run } = useAction()
const chosen = ref('')
const form = ref({
  code: '',
  name: '',
  source: '',
  month: new Date().toLocaleDateString('sv-SE').slice(0, 8) + '01',
  value: '',
})
const index = computed(() => data.value?.indices.find(one => one.code === chosen.value) ?? data.value?.indices[0])
function add(): void {
  form.value = { ...form.value, code: '', name: '', source: '', value: '' }
}
function go(code: string): void {
  const one = data.value?.indices.find(other => other.code === code)
  chosen.value = code
  if (one) form.value = { ...form.value, code, name: one.name, source: one.source, value: '' }
}
async function save(): Promise<void> {
  const { code, name, source, month, value } = form.value
  const values = value === '' ? [] : [{ month: `${month.slice(0, 7)}-01`, value }]
  if (!(await run(() => api(SaveIndex, { params: { code: code.toUpperCase() }, body: { name, source, values } }))))
    return
  chosen.value = code.toUpperCase()
  form.value.value = ''
  await reload()
}
</script>

<template>
  <article class="indices">
    <h1>Price indices</h1>
    <p class="quiet">
      Prices of agreements that follow an index change on the day on which a value is entered. What was ordered keeps
      its price.
    </p>
    <p class="bar">
      <ElButton
        v-for="one in data?.indices"
        :key="one.code"
        :type="one.code === index?.code ? 'primary' : ''"
        size="small"
        @click="go(one.code)"
        >{{ one.code }}</ElButton><ElButton v-if="session.may('agreement.write')" size="small" @click="add"
        >New index</ElButton
      >
    </p>
    <template v-if="index">
      <h2>
        {{ index.name }} <small class="quiet">{{ index.code }} {{ index.source }}</small>
      </h2>
      <LineTable
        v-if="index.values.length"
        :rows="index.values"
        :columns="lineColumns({ '!month': 'Month', '#value': 'Value', '~by': 'Entered' })"
        label="Values"
        :off="one => one.replaced"
        ><template #month="{ row }">{{ row.month.slice(0, 7) }}</template
        ><template #value="{ row }"
          ><del v-if="row.replaced">{{ priceText(row.value) }}</del
          ><template v-else>{{ priceText(row.value) }}</template></template
        ><template #by="{ row }">{{ row.by }}, {{ stamp(row.at) }}</template></LineTable
      >
    </template>
    <p v-else-if="data" class="empty">No price follows an index yet. Name one, and enter its first value.</p>
    <EntryForm
      v-if="session.may('agreement.write')"
      :reasons="reasons"
      :busy="busy"
      columns
      class="section"
      @submit="save"
    >
      <FormField label="Code" place="code"
        ><ElInput v-model="form.code" maxlength="24" data-test="index-code"
      /></FormField>
      <FormField label="Name" place="name"
        ><ElInput v-model="form.name" maxlength="200" data-test="index-name"
      /></FormField>
      <FormField label="Where it is published"><ElInput v-model="form.source" maxlength="200" /></FormField>
      <FormField label="Month"><DayField v-model="form.month" label="Month" /></FormField>
      <FormField label="Value" place="values.0"><NumberField v-model="form.value" label="Value" /></FormField>
      <template #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || form.code === '' || form.name === ''"
          data-test="save-index"
          >Keep</ElButton
        ></template
      >
    </EntryForm>
  </article>
</template>

<style scoped>
.indices {
  padding: 20px 28px 60px;
  max-width: 900px;
}
</style>
