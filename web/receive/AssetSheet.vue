<script setup lang="ts">
import '#contract/messages/receiving.ts'
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { DisposeAsset, ReadAsset, TellAsset } from '#contract/receive/assets.ts'
import { api } from '#web/api.ts'
import SheetFrame from '#web/frame/SheetFrame.vue'
import LabelDialog from '#web/receive/LabelDialog.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, words } from '#web/shared/words.ts'

/** A piece under a tag of ours: what it is, where it is and who has it, and where it came from. */
const route = useRoute()
const id = computed(() => String(route.params.id))
const typing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadAsset, id, () => typing.value)
const { busy, reasons, run, clear } = useAction()
const form = ref<ResponseOf<typeof ReadAsset>['entry']>()
const ends = ref(false)
const labels = ref(false)
watch(sheet, now => {
  if (now && !typing.value) form.value = { ...now.entry }
})
watch(id, () => {
  typing.value = false
  form.value = undefined
  clear()
})
async function keep(): Promise<void> {
  const body = { ...form.value!, version: sheet.value!.version }
  if (!(await run(() => api(TellAsset, { params: { id: id.value }, body })))) return
  typing.value = false
  await reload()
}
async function dispose(reason: string): Promise<void> {
  const body = { version: sheet.value!.version, reason }
  if (!(await run(() => api(DisposeAsset, { params: { id: id.value }, body })))) return
  ends.value = false
  await reload()
}
</script>

<template>
  <SheetFailure v-if="failure && !sheet" :failure="failure" @again="reload" />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @changed="reload">
    <template #kind
      ><b>{{ sheet.number }}</b
      ><template v-if="sheet.item"
        >, <RouterLink :to="`/request/catalogue/${sheet.item.id}`">{{ sheet.item.label }}</RouterLink></template
      ></template
    >
    <template #acts
      ><ElButton v-if="sheet.entry.tag" data-test="label" @click="labels = true">Label</ElButton
      ><ElButton v-if="sheet.mayTell && sheet.state === 'inUse'" data-test="dispose" @click="ends = true"
        >No longer used</ElButton
      ></template
    >
    <template #notice
      ><p v-if="sheet.missing.length" class="tone-attention">
        {{ sheet.missing.map(reason => words(reason)).join(' ') }}
      </p></template
    >
    <EntryForm
      v-if="form"
      class="section"
      columns
      :reasons="reasons"
      :busy="busy"
      @submit="keep"
      @input="typing = true"
    >
      <FormField label="Our tag" place="tag"
        ><ElInput v-model="form.tag" :disabled="!sheet.mayTell" data-test="asset-tag" /></FormField
      ><FormField label="Serial number" place="serial"
        ><ElInput v-model="form.serial" :disabled="!sheet.mayTell" data-test="asset-serial" /></FormField
      ><FormField label="What it is" place="description"
        ><ElInput v-model="form.description" :disabled="!sheet.mayTell" /></FormField
      ><FormField label="Where it is"
        ><ElSelect
          v-model="form.placeId"
          :disabled="!sheet.mayTell"
          clearable
          :value-on-clear="null"
          @change="typing = true"
          ><ElOption
            v-for="one in sheet.places"
            :key="one.id"
            :value="one.id"
            :label="one.label" /></ElSelect></FormField
      ><FormField label="Bin or room"><ElInput v-model="form.bin" :disabled="!sheet.mayTell" /></FormField
      ><FormField label="Who has it"
        ><ElSelect
          v-model="form.personId"
          :disabled="!sheet.mayTell"
          filterable
          default-first-option
          clearable
          :value-on-clear="null"
          @change="typing = true"
          ><ElOption
            v-for="one in sheet.people"
            :key="one.id"
            :value="one.id"
            :label="one.label" /></ElSelect></FormField
      ><FormField label="Warranty until"
        ><DayField
          v-model="form.warrantyTo"
          label="Warranty until"
          empty="none"
          @update:model-value="typing = true" /></FormField
      ><FormField
        label="Maintenance every so many months"
        :help="sheet.nextService ? `first on ${day(sheet.nextService)}` : ''"
        ><ElInputNumber
          v-model="form.serviceMonths"
          :min="0"
          :max="600"
          :controls="false"
          :disabled="!sheet.mayTell" /></FormField
      ><FormField label="Note" whole><ElInput v-model="form.note" :disabled="!sheet.mayTell" /></FormField
      ><template v-if="sheet.mayTell && typing" #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="keep-asset">Keep it</ElButton
        ><ElButton
          @click="
            () => {
              typing = false
              form = { ...sheet!.entry }
            }
          "
          >Leave it</ElButton
        ></template
      >
    </EntryForm>
    <section class="section">
      <h2>Where it came from</h2>
      <LineTable
        :rows="sheet.cameFrom"
        :columns="lineColumns({ kind: 'Document', day: 'Day', '~state': 'State' })"
        label="Where it came from"
        bare
        ><template #kind="{ row: one }"
          >{{ label('kind', one.kind) }}
          <RouterLink v-if="one.path" :to="one.path">{{ one.number }}</RouterLink><template v-else>{{
            one.number
          }}</template></template
        ><template #day="{ row: one }">{{ one.day ? day(one.day) : '' }}</template
        ><template #state="{ row: one }">{{ label('state', one.state) }}</template></LineTable
      >
      <p class="quiet">
        Cost {{ sheet.currency }} {{ amountText(sheet.cost)
        }}<template v-if="sheet.account">, {{ sheet.account }}</template
        ><template v-if="sheet.parent">
          · part of
          <RouterLink :to="`/receive/assets/${sheet.parent.id}`">{{ sheet.parent.label }}</RouterLink></template
        ><template v-for="part in sheet.parts" :key="part.id">
          · has <RouterLink :to="`/receive/assets/${part.id}`">{{ part.label }}</RouterLink></template
        >
      </p>
    </section>
  </SheetFrame>
  <ActDialog
    :open="ends"
    title="It is no longer used"
    what="It leaves the list of what is here; everything that is known of it stays."
    button="No longer used"
    :busy="busy"
    :reasons="reasons"
    @close="ends = false"
    @go="dispose"
  />
  <LabelDialog v-if="labels && sheet" :ids="[sheet.id]" @close="labels = false" />
</template>

<style scoped>
.quiet {
  color: var(--ink-quiet);
}
</style>
