<script setup lang="ts">
import { ElButton, ElDialog, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref } from 'vue'
import { ReadLimits, SaveLimits } from '#contract/rules/endpoints.ts'
import { DECIDED_KINDS } from '#core/rules/facts.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Up to which amounts somebody decides alone; above them the next in their chain decides, too. */
const props = defineProps<{ person: { id: string; name: string } }>()
const emit = defineEmits<{ done: [waits: boolean]; close: [] }>()
const { busy, reasons, run } = useAction()
const params = { id: props.person.id }
const form = reactive({
  version: 0,
  currency: '',
  limits: [] as { kind: (typeof DECIDED_KINDS)[number]; amount: string }[],
})
onMounted(async () => Object.assign(form, await api(ReadLimits, { params })))
const left = computed(() => DECIDED_KINDS.filter(kind => !form.limits.some(one => one.kind === kind)))
const added = ref('')
function add(kind: (typeof DECIDED_KINDS)[number]): void {
  form.limits.push({ kind, amount: '0' })
  added.value = ''
}
async function save(): Promise<void> {
  const body = { version: form.version, limits: form.limits.map(one => ({ ...one, amount: one.amount || '0' })) }
  const done = await run(() => api(SaveLimits, { params, body }))
  if (done) emit('done', done.waits)
}
const COLUMNS = computed(() =>
  lineColumns({ kind: 'Decides alone', '#amount': `Up to, ${form.currency}`, '-acts': 'Take out' }),
)
</script>

<template>
  <ElDialog :model-value="true" :title="`Limits of ${person.name}`" width="520px" @close="emit('close')">
    <p class="quiet">
      Above a limit the next in the chain decides, too. What is not named here has no limit. Lower limits hold at once,
      higher ones when a second person has agreed.
    </p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <LineTable
        v-if="form.limits.length"
        :rows="form.limits"
        :columns="COLUMNS"
        label="Limits"
        :key-of="one => one.kind"
        ><template #kind="{ row }">{{ laterLabel('decided kind', row.kind) }}</template>
        <template #amount="{ row }"
          ><NumberField
            v-model="row.amount"
            :label="`Limit for ${laterLabel('decided kind', row.kind)}`"
            width="140px"
            :data-test="`limit-${row.kind}`"
        /></template>
        <template #acts="{ index }"
          ><ElButton link @click="form.limits.splice(index, 1)">take out</ElButton></template
        ></LineTable
      >
      <ElSelect
        v-if="left.length"
        v-model="added"
        placeholder="Add a limit for"
        aria-label="Add a limit for"
        style="width: 280px; margin-top: 10px"
        data-test="add-limit"
        @change="add"
        ><ElOption v-for="kind in left" :key="kind" :value="kind" :label="laterLabel('decided kind', kind)" /></ElSelect
      ><template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy || !form.version" data-test="save-limits"
          >Save</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>
