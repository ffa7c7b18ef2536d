<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { AskUnpriced, RequestParts, ShareCosting } from '#contract/build/costings.ts'
import { ListEventKinds } from '#contract/source/eventKinds.ts'
import { addDays } from '#core/calendar/days.ts'
import { api } from '#web/api.ts'
import type { Costing } from '#web/build/useCosting.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/**
 * What is made of a costing: requests, an event about what has no price, a link for colleagues; or its settings
 * put beside under a name.
 */
const props = defineProps<{ costing: Costing; version: number; asked: string }>()
const emit = defineEmits<{ close: []; beside: [name: string]; changed: [] }>()
const router = useRouter()
const { busy, reasons, run } = useAction()
const TITLES: Readonly<Record<string, string>> = {
  request: 'Request what is priced',
  ask: 'Ask for quotes for what has no price',
  share: 'A link for reading',
  beside: 'Put these settings beside',
}
const WEEKS = 14
const text = ref(props.asked === 'ask' ? `${props.costing.title}: what has no price` : '')
const bySupplier = ref(true)
const endsOn = ref<string | null>(addDays(new Date().toISOString().slice(0, 10), WEEKS))
const link = ref('')
const { data: kinds } = useRead(ListEventKinds, {}, { when: () => props.asked === 'ask' })
const live = computed(() => kinds.value?.kinds.filter(one => one.state === 'live') ?? [])
const kindId = ref('')
const kind = computed({
  get: () => kindId.value || (live.value[0]?.id ?? ''),
  set: (id: string) => void (kindId.value = id),
})
const params = { id: props.costing.id }

async function go(): Promise<void> {
  if (props.asked === 'beside') {
    emit('beside', text.value)
    emit('close')
  } else if (props.asked === 'ask') {
    const made = await run(() =>
      api(AskUnpriced, { params, body: { version: props.version, kindId: kind.value, title: text.value } }),
    )
    if (made) await router.push(`/source/events/${made.id}`)
  } else if (props.asked === 'request') {
    const made = await run(() =>
      api(RequestParts, { params, body: { version: props.version, reason: text.value, bySupplier: bySupplier.value } }),
    )
    if (made) await router.push(made.requests.length === 1 ? `/request/${made.requests[0]!.id}` : '/request')
  } else {
    const made = await run(() =>
      api(ShareCosting, { params, body: { version: props.version, endsOn: endsOn.value ?? '' } }),
    )
    if (made) link.value = `${window.location.origin}${made.path}`
    emit('changed')
  }
}
const copy = (): void => void navigator.clipboard.writeText(link.value).catch(() => undefined)
</script>

<template>
  <ElDialog :model-value="true" :title="TITLES[asked] ?? ''" width="520" append-to-body @closed="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="go">
      <template v-if="link"
        ><p>
          Send this to colleagues of the team. Whoever opens it reads the costing until the link ends. It is shown only
          now.
        </p>
        <p class="bar">
          <ElInput :model-value="link" readonly aria-label="Link" data-test="share-link" /><ElButton @click="copy"
            >Copy</ElButton
          >
        </p>
        <p><ElButton type="primary" data-test="share-done" @click="emit('close')">Done</ElButton></p></template
      ><template v-else>
        <FormField v-if="asked === 'ask'" label="Kind"
          ><ElSelect v-model="kind" aria-label="Kind" data-test="ask-kind"
            ><ElOption v-for="one in live" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
        ></FormField>
        <FormField v-if="asked === 'share'" label="Until" place="endsOn"
          ><DayField v-model="endsOn" label="Until"
        /></FormField>
        <FormField
          v-else
          :label="asked === 'request' ? 'What for' : asked === 'beside' ? 'Name' : 'Title'"
          :place="asked === 'request' ? 'reason' : 'title'"
          ><ElInput v-model="text" maxlength="200" data-test="act-text"
        /></FormField>
        <p v-if="asked === 'request'">
          <ElCheckbox v-model="bySupplier" data-test="by-supplier">a request for each supplier</ElCheckbox>
        </p>
        <p class="bar">
          <ElButton
            type="primary"
            native-type="submit"
            :disabled="busy || (asked !== 'share' && text.trim() === '')"
            data-test="do-act"
            >{{
              asked === 'share' ? 'Make the link' : asked === 'beside' ? 'Put beside' : 'Make a draft'
            }}</ElButton><ElButton @click="emit('close')">Leave it</ElButton>
        </p>
      </template>
    </EntryForm>
  </ElDialog>
</template>
