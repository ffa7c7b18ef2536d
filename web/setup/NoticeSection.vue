<script setup lang="ts">
import { ElButton, ElDatePicker, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { EndNotice, ListNotices, type NoticeJson, SaveNotice } from '#contract/request/forms.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { day } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** Words from purchasing to those who ask: when, for whom, about what. */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const all = shallowRef<readonly NoticeJson[]>([])
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
const open = ref(false)
const form = reactive({
  id: null as string | null,
  version: 0,
  title: '',
  body: '',
  fromDay: '',
  toDay: '',
  costCentres: [] as string[],
  categories: [] as string[],
  suppliers: [] as string[],
})
const load = async (): Promise<void> => {
  if (session.may('notice.write')) all.value = (await api(ListNotices, { query: { all: 'yes' } })).notices
}
onMounted(async () => {
  await load()
  choices.value = await api(ReadChoices)
})
function edit(one?: NoticeJson): void {
  clear()
  Object.assign(form, {
    id: one?.id ?? null,
    version: one?.version ?? 0,
    title: one?.title ?? '',
    body: one?.body ?? '',
    fromDay: one?.fromDay ?? session.today,
    toDay: one?.toDay ?? session.today,
    costCentres: [...(one?.costCentres ?? [])],
    categories: [...(one?.categories ?? [])],
    suppliers: [...(one?.suppliers ?? [])],
  })
  open.value = true
}
async function save(): Promise<void> {
  if (await run(() => api(SaveNotice, { body: { ...form } }))) {
    open.value = false
    await load()
  }
}
async function end(one: NoticeJson): Promise<void> {
  if (await run(() => api(EndNotice, { params: { id: one.id }, body: { version: one.version } }))) await load()
}
const audience = (one: NoticeJson): string =>
  [...one.costCentres, ...one.categories, ...one.supplierNames].join(', ') || 'everybody'
</script>

<template>
  <section v-if="session.may('notice.write')" class="section" data-test="notices">
    <h1>Notices to those who ask</h1>
    <p class="quiet">
      They stand where they matter: in the catalogue, on items and in drafts. Whoever has read one does not see it
      again.
    </p>
    <LineTable
      v-if="all.length"
      :rows="all"
      :columns="lineColumns({ notice: 'Notice', shown: 'Shown', to: 'To', '#acts': '' })"
      label="Notices"
      :key-of="one => one.id"
      :off="one => one.withdrawnAt !== null || one.toDay < session.today"
      ><template #notice="{ row: one }">
        {{ one.title }}<small>{{ one.by }}</small>
      </template>
      <template #shown="{ row: one }"
        >{{ day(one.fromDay) }} to {{ day(one.toDay) }}<small v-if="one.withdrawnAt">withdrawn</small></template
      >
      <template #to="{ row: one }">{{ audience(one) }}</template>
      <template #acts="{ row: one }">
        <template v-if="!one.withdrawnAt"
          ><ElButton link @click="edit(one)">change</ElButton>
          <ElButton link @click="end(one)">withdraw</ElButton></template
        >
      </template></LineTable
    >
    <ReasonList v-if="!open" :reasons="reasons" />
    <p class="bar"><ElButton data-test="new-notice" @click="edit()">Write a notice</ElButton></p>
    <ElDialog v-model="open" :title="form.id ? 'Change the notice' : 'A notice'" width="560px"
      ><EntryForm :reasons="reasons" :busy="busy" columns @submit="save"
        ><FormField label="Title"><ElInput v-model="form.title" maxlength="200" data-test="notice-title" /></FormField
        ><FormField label="More, if there is" class="gap"
          ><ElInput v-model="form.body" type="textarea" :rows="4" maxlength="4000"
        /></FormField>

        <FormField label="From"
          ><ElDatePicker
            v-model="form.fromDay"
            type="date"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY"
            style="width: 100%" /></FormField
        ><FormField label="To" place="toDay"
          ><ElDatePicker
            v-model="form.toDay"
            type="date"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY"
            style="width: 100%" /></FormField
        ><FormField label="Cost centres (none: all)"
          ><ElSelect v-model="form.costCentres" multiple filterable default-first-option collapse-tags
            ><ElOption
              v-for="one in choices?.costCentres"
              :key="one.code"
              :value="one.code"
              :label="`${one.code} ${one.name}`" /></ElSelect></FormField
        ><FormField label="About categories"
          ><ElSelect
            v-model="form.categories"
            multiple
            filterable
            default-first-option
            collapse-tags
            data-test="notice-categories"
            ><ElOption v-for="one in choices?.categories" :key="one" :value="one" :label="one" /></ElSelect></FormField
        ><FormField label="About suppliers"
          ><ElSelect v-model="form.suppliers" multiple filterable default-first-option collapse-tags
            ><ElOption v-for="one in choices?.suppliers" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
        ></FormField>

        <template #acts
          ><ElButton
            type="primary"
            :disabled="busy || form.title.trim().length < 3"
            data-test="save-notice"
            native-type="submit"
            >Publish</ElButton
          ><ElButton @click="open = false">Leave it</ElButton></template
        ></EntryForm
      ></ElDialog
    >
  </section>
</template>

<style scoped>
.off td {
  color: var(--ink-quiet);
}
.gap {
  margin-top: 10px;
}
.bar {
  margin-top: 10px;
}
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
