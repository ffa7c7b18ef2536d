<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { AskFromPool } from '#contract/order/awarded.ts'
import { ListEventKinds } from '#contract/source/eventKinds.ts'
import { CreateEvent, Events } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** A new event: from scratch, from an earlier one, or of lines that wait to be bought. */
const props = defineProps<{ lineIds?: readonly string[]; title?: string }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const { busy, reasons, run } = useAction()
const { data } = useRead(ListEventKinds)
const { data: earlier } = useRead(Events.page, { query: { view: 'all', limit: 50 } }, { when: () => !props.lineIds })
const kinds = computed(() => data.value?.kinds.filter(one => one.state === 'live') ?? [])
const kindId = ref('')
const title = ref(props.title ?? '')
const copyOf = ref('')
watch(kinds, all => {
  if (kindId.value === '') kindId.value = all[0]?.id ?? ''
})
const about = computed(() => {
  const kind = kinds.value.find(one => one.id === kindId.value)
  if (!kind) return ''
  const { settings } = kind
  return [
    settings.format === 'auction' ? 'Bidding on a day' : 'Answers until a moment',
    settings.sealed ? 'sealed until the end' : '',
    laterLabel('event price', settings.pricing),
    settings.sections.length ? 'with questions' : '',
  ]
    .filter(Boolean)
    .join(', ')
})
async function go(): Promise<void> {
  const made = await run(() =>
    props.lineIds
      ? api(AskFromPool, { body: { kindId: kindId.value, title: title.value, lineIds: [...props.lineIds] } })
      : api(CreateEvent, { body: { kindId: kindId.value, title: title.value, copyOf: copyOf.value || null } }),
  )
  if (made) await router.push(`/source/events/${made.id}`)
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="
      lineIds ? `Ask suppliers about ${lineIds.length} ${lineIds.length === 1 ? 'line' : 'lines'}` : 'Ask suppliers'
    "
    width="520"
    append-to-body
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <p v-if="data && !kinds.length" class="empty">
        There is no kind of event yet. A steward makes one in <RouterLink to="/setup/eventKinds">Setup</RouterLink>.
      </p>
      <FormField label="Kind" :help="`${about}.`"
        ><ElSelect v-model="kindId" aria-label="Kind" data-test="event-kind"
          ><ElOption v-for="one in kinds" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ></FormField>
      <FormField label="Title" place="title"><ElInput v-model="title" data-test="new-event-title" /></FormField>
      <FormField v-if="!lineIds" label="With the lines of"
        ><ElSelect
          v-model="copyOf"
          clearable
          filterable
          :value-on-clear="''"
          placeholder="nothing, from scratch"
          aria-label="With the lines of"
          data-test="copy-of"
          ><ElOption
            v-for="one in earlier?.rows"
            :key="one.id"
            :value="one.id"
            :label="`${one.number} ${one.title}`" /></ElSelect
      ></FormField>
      <p class="bar">
        <ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || kindId === '' || title.trim() === ''"
          data-test="make-event"
          >Begin</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton>
      </p>
    </EntryForm>
  </ElDialog>
</template>
