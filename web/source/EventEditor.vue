<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { ChangeEvent, type ReadEvent } from '#contract/source/events.ts'
import { api } from '#web/api.ts'
import CurrencyField from '#web/shared/CurrencyField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import MomentField from '#web/shared/MomentField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { timeText } from '#web/shared/words.ts'
import EventJudging from '#web/source/EventJudging.vue'
import EventLines from '#web/source/EventLines.vue'
import EventLotRules from '#web/source/EventLotRules.vue'

/** The draft of an event: everything that is asked and how. It keeps itself; whoever sends it looks at what is listed above. */
type Sheet = ResponseOf<typeof ReadEvent>
const props = defineProps<{ sheet: Sheet }>()
const emit = defineEmits<{ typing: [now: boolean]; kept: [] }>()
const { data: choices } = useRead(ReadChoices)
const { busy, reasons, run } = useAction()
const body = ref<Sheet['body']>(structuredClone(props.sheet.body))
const keptAt = ref('')
const auction = computed(() => props.sheet.settings.format === 'auction')
const headTexts = computed(() =>
  props.sheet.settings.texts.filter(one => one.place === 'head' && one.writtenBy === 'us'),
)
const WAIT = 700

/** What the server has, to tell typing from what came back. */
let known = JSON.stringify(body.value)
watch(
  () => props.sheet.version,
  () => {
    if (JSON.stringify(body.value) !== known) return
    body.value = structuredClone(props.sheet.body)
    known = JSON.stringify(body.value)
  },
)
async function keep(): Promise<void> {
  const now = JSON.stringify(body.value)
  if (now === known) return emit('typing', false)
  if (busy.value) return void keepSoon()
  const done = await run(() =>
    api(ChangeEvent, { params: { id: props.sheet.id }, body: { ...body.value, version: props.sheet.version } }),
  )
  if (!done) return
  known = now
  keptAt.value = new Date().toISOString()
  emit('kept')
}
const keepSoon = useDebounceFn(() => void keep(), WAIT)
watch(
  body,
  () => {
    if (JSON.stringify(body.value) === known) return
    emit('typing', true)
    void keepSoon()
  },
  { deep: true },
)
</script>

<template>
  <section class="section">
    <EntryForm :reasons="reasons" :busy="busy" columns @submit="keep">
      <FormField label="Title" place="title" whole
        ><ElInput v-model="body.title" maxlength="200" data-test="event-title"
      /></FormField>
      <FormField v-if="auction" label="Opens" place="opensAt"
        ><MomentField v-model="body.opensAt" label="Opens" :zone="body.zone" mark="opens"
      /></FormField>
      <FormField v-else label="Answers count until" place="endsAt"
        ><MomentField v-model="body.endsAt" label="Answers count until" :zone="body.zone" mark="ends-at"
      /></FormField>
      <FormField label="Category" help="Suppliers are proposed by it."
        ><ElSelect
          v-model="body.category"
          filterable
          clearable
          :value-on-clear="''"
          aria-label="Category"
          data-test="event-category"
          ><ElOption v-for="one in choices?.categories" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <FormField label="Compared in" place="currency"><CurrencyField v-model="body.currency" /></FormField>
      <FormField
        v-if="sheet.outside"
        label="Number from outside"
        place="outsideNumber"
        :help="body.outsideNumber ? 'It stays with this event: none is left out.' : ''"
        ><template v-if="body.outsideNumber">{{ body.outsideNumber }}</template
        ><ElButton
          v-else-if="sheet.outside.shown"
          data-test="take-outside"
          @click="body.outsideNumber = sheet.outside.shown"
          >Take {{ sheet.outside.shown }}</ElButton
        ><template v-else>The range is used up.</template></FormField
      >
      <FormField label="A word to everybody" whole
        ><ElInput v-model="body.message" type="textarea" :rows="2" data-test="event-message"
      /></FormField>
      <FormField
        v-for="text in headTexts"
        :key="text.key"
        :label="text.seenBy === 'us' ? `${text.name} (only we see it)` : text.name"
        whole
        ><ElInput v-model="body.texts[text.key]" type="textarea" :rows="2" :placeholder="text.words.en ?? ''"
      /></FormField>
    </EntryForm>
    <EventLines
      v-model:lines="body.lines"
      v-model:lots="body.lots"
      :sheet="sheet"
      :choices="choices"
      @taken="emit('kept')"
    />
    <EventLotRules v-if="auction" v-model="body.lots" :currency="body.currency" />
    <EventJudging v-model="body" :sheet="sheet" :people="choices?.people ?? []" />
    <p class="quiet kept" role="status" data-test="kept">
      {{ keptAt ? `kept ${timeText(keptAt)}` : 'A draft keeps itself.' }}
    </p>
  </section>
</template>

<style scoped>
.kept {
  margin-top: 8px;
}
</style>
