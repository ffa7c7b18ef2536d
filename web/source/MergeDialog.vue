<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { Merge, PreviewMerge } from '#contract/source/duplicates.ts'
import { type CandidateJson, FindSuppliers } from '#contract/source/endpoints.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** Shows what moves where before two records become one; either may be the one that is kept. */
interface Head {
  id: string
  name: string
  number: string
}
const props = defineProps<{ kept: Head; merged?: Head }>()
const emit = defineEmits<{ close: []; merged: [keptId: string]; asked: [secondYesId: string] }>()
const { busy, reasons, run } = useAction()
const keep = ref<Head>(props.kept)
const other = ref<Head | undefined>(props.merged)
const found = shallowRef<CandidateJson[]>([])
const preview = shallowRef<ResponseOf<typeof PreviewMerge>>()
const reason = ref('')

async function look(name: string): Promise<void> {
  if (name.trim().length < 3) return
  found.value = (
    await api(FindSuppliers, {
      body: {
        name,
        country: '',
        postalCode: '',
        city: '',
        street: '',
        web: '',
        iban: '',
        identifiers: [],
        except: props.kept.id,
      },
    })
  ).candidates
}
function choose(id: string): void {
  const one = found.value.find(candidate => candidate.id === id)
  if (one) other.value = { id: one.id, name: one.name, number: one.number }
}
watch(
  [keep, other],
  async () => {
    preview.value = undefined
    if (other.value)
      preview.value = await run(() =>
        api(PreviewMerge, { query: { keptId: keep.value.id, mergedId: other.value!.id } }),
      )
  },
  { immediate: true },
)
function swap(): void {
  if (other.value) [keep.value, other.value] = [other.value, keep.value]
}
async function merge(): Promise<void> {
  const done = await run(() =>
    api(Merge, { body: { keptId: keep.value.id, mergedId: other.value!.id, reason: reason.value } }),
  )
  if (done?.secondYesId) emit('asked', done.secondYesId)
  else if (done) emit('merged', keep.value.id)
}
</script>

<template>
  <ElDialog :model-value="true" title="Two records become one" width="660px" @close="emit('close')">
    <FormField label="Which record is it a second one of?" v-if="!merged && !other"
      ><ElSelect
        :model-value="''"
        filterable
        remote
        :remote-method="look"
        placeholder="Type its name"
        data-test="merge-other"
        @update:model-value="choose"
        ><ElOption
          v-for="one in found"
          :key="one.id"
          :value="one.id"
          :label="`${one.name}, ${one.number}, ${one.city}`" /></ElSelect
    ></FormField>
    <template v-if="other">
      <p class="heads">
        <span
          ><small>is kept</small><b>{{ keep.name }}</b> {{ keep.number }}</span
        ><ElButton link data-test="swap" @click="swap">⇄ keep the other</ElButton
        ><span
          ><small>is merged into it</small><b>{{ other.name }}</b> {{ other.number }}</span
        >
      </p>
      <LineTable
        v-if="preview"
        :rows="preview.moves.filter(other => other.count || other.staying)"
        :columns="lineColumns({ what: 'What', '#move': 'Move', which: 'Which', '#thereAlready': 'There already' })"
        label="What moves"
        :key-of="one => one.what"
        :off="one => !one.count"
        ><template #what="{ row: one }">{{ laterLabel('moved', one.what) }}</template>
        <template #move="{ row: one }">{{ one.count }}</template>
        <template #which="{ row: one }"
          ><div class="cut">
            {{ one.moving.join('; ') }}<template v-if="one.count > one.moving.length"> …</template>
          </div></template
        >
        <template #thereAlready="{ row: one }">{{ one.staying || '' }}</template></LineTable
      >
      <p v-if="preview && !preview.moves.some(one => one.count)" class="quiet">
        Nothing needs to move: all is there already.
      </p>
      <p class="quiet">
        Both histories stay. Sealed orders and settled invoices stay with the record they were made for, which points
        here. This can be undone for 30 days.
      </p>
      <p v-if="preview?.needsSecondYes" class="reasons check" data-test="needs-second-yes">
        What {{ other.name }} is owed would be paid to {{ keep.name }}’s account. A second person has to say yes first;
        both suppliers are told.
      </p>
      <ReasonList :reasons="[...(preview?.reasons ?? []), ...reasons]" />
      <FormField label="Reason"><ElInput v-model="reason" data-test="reason" /></FormField>
    </template>
    <template #footer
      ><ElButton
        type="primary"
        :disabled="busy || !other || !preview || preview.reasons.length > 0 || reason.trim().length < 3"
        data-test="do-merge"
        @click="merge"
        >{{
          !other
            ? 'Merge'
            : preview?.needsSecondYes
              ? 'Ask a second person'
              : `Merge ${other.number} into ${keep.number}`
        }}</ElButton
      ><ElButton @click="emit('close')">Leave it</ElButton></template
    >
  </ElDialog>
</template>

<style scoped>
.heads {
  display: grid;
  grid-template-columns: 1fr auto 1fr;
  gap: 16px;
  align-items: center;
  margin-bottom: 12px;
}
.heads span {
  display: flex;
  flex-direction: column;
}
small {
  color: var(--ink-quiet);
}
.off {
  color: var(--ink-quiet);
}
.cut {
  max-width: 300px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.field {
  margin-top: 10px;
}
</style>
