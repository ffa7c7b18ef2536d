<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { ActTogether, PreviewTogether, type TOGETHER, type TogetherAct } from '#contract/documents/together.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, words } from '#web/shared/words.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What an act will do with each of several documents; then does it, and says with which it was not possible and why. */
const props = defineProps<{
  kind: keyof typeof TOGETHER
  act: TogetherAct
  ids: readonly string[]
  /** Versions of them as they were seen. */
  seen?: Readonly<Record<string, number>>
}>()
const emit = defineEmits<{ close: []; done: [] }>()
const { busy, reasons, run } = useAction()
const WORDS: Readonly<Record<string, string>> = {
  chase: 'A sentence for the suppliers, if you like',
  cancel: 'Why, at least three letters: the suppliers read it',
  return: 'Reason',
  reject: 'Reason',
  clear: 'Reason, which stays with each',
}
const reason = ref('')
const looked = shallowRef<ResponseOf<typeof PreviewTogether>['rows']>()
const done = shallowRef<ResponseOf<typeof ActTogether>['rows']>()
const ids = [...props.ids]
const asked = () => ({
  kind: props.kind,
  act: props.act,
  ids,
  reason: reason.value,
  ...(props.seen ? { seen: props.seen } : {}),
})
void run(async () => {
  looked.value = (await api(PreviewTogether, { body: asked() })).rows
})
const possible = computed(() => looked.value?.filter(row => row.possible) ?? [])
const impossible = computed(() => looked.value?.filter(row => !row.possible) ?? [])
const shown = computed(() => [...impossible.value, ...possible.value])
const verb = computed(() => label('action', props.act))
/** How many are sent at a time: one answer takes a second or two, and nobody else waits longer for what they touch. */
const AT_A_TIME = 25
const went = shallowRef<ResponseOf<typeof ActTogether>['rows']>([])
const left = computed(() => possible.value.filter(row => !went.value.some(one => one.id === row.id)))
const begun = ref(0)
const stopped = ref(false)
/** How long the rest takes, in seconds, as far as it went until now. */
const secondsLeft = computed(() =>
  Math.ceil(((Date.now() - begun.value) / 1000 / went.value.length) * left.value.length),
)
/** Part after part; what is done stays done when the network fails or somebody stops, and the rest can be gone on with. */
async function go(): Promise<void> {
  if (left.value.length === 0) return
  begun.value = Date.now()
  stopped.value = false
  const finished = await run(async () => {
    while (left.value.length > 0 && !stopped.value) {
      const body = { ...asked(), ids: left.value.slice(0, AT_A_TIME).map(row => row.id) }
      went.value = [...went.value, ...(await api(ActTogether, { body })).rows]
    }
    return true
  })
  if (!finished || left.value.length > 0) return
  done.value = went.value
  emit('done')
}
/** Leaves the rest as it is. */
function leave(): void {
  if (went.value.length > 0 && !done.value) emit('done')
  emit('close')
}
const count = (some: readonly unknown[] | undefined): string => (some?.length === 1 ? 'one' : String(some?.length ?? 0))
</script>

<template>
  <ElDialog :model-value="true" :title="`${verb} ${count(ids)} at once`" width="720px" @close="leave">
    <template v-if="done">
      <p role="status" data-test="together-done">
        <b class="tone-settled">{{ done.filter(row => row.done).length }} done.</b>
        <template v-if="done.some(row => !row.done)"
          >{{ done.filter(row => !row.done).length }} could not be done any more:</template
        >
      </p>
      <ul>
        <li v-for="row in done.filter(one => !one.done)" :key="row.id">
          {{ row.number }}: {{ row.reasons.map(one => words(one)).join(' ') }}
        </li>
      </ul>
      <p class="bar"><ElButton type="primary" @click="emit('close')">Good</ElButton></p>
    </template>
    <template v-else-if="looked">
      <p>
        <b>{{ possible.length }}</b> can be done<template v-if="impossible.length"
          >, <b class="tone-attention">{{ impossible.length }} cannot</b></template
        >. Each is done for itself.
      </p>
      <div class="rows">
        <LineTable
          data-test="together-preview"
          :rows="shown"
          :columns="lineColumns({ number: 'Number', title: 'Title', says: 'What happens' })"
          label="What each will do"
          bare
          :key-of="row => row.id"
          ><template #number="{ row }"
            ><span class="nowrap">{{ row.number }}</span></template
          >
          <template #title="{ row }">{{ row.title }}</template>
          <template #says="{ row }"
            ><template v-if="row.possible">{{ words(row.says) }}</template
            ><span v-else class="tone-attention">◆ {{ row.reasons.map(one => words(one)).join(' ') }}</span></template
          ></LineTable
        >
      </div>
      <EntryForm :reasons="reasons" :busy="busy" @submit="go">
        <FormField :label="WORDS[act] ?? 'Reason, if you like'"
          ><ElInput v-model="reason" type="textarea" :rows="2" maxlength="4000" data-test="together-reason"
        /></FormField>
        <template #acts
          ><ElButton
            type="primary"
            native-type="submit"
            :disabled="busy || left.length === 0"
            data-test="together-go"
            >{{ went.length ? `${verb} the other ${count(left)}` : `${verb} ${count(possible)}` }}</ElButton
          ><ElButton v-if="busy && went.length" @click="stopped = true">Stop here</ElButton
          ><ElButton v-else @click="leave">Leave it</ElButton>
          <span v-if="went.length" role="status" class="quiet"
            >{{ went.length }} of {{ possible.length }} done<template v-if="busy"
              >, about {{ secondsLeft }} s left</template
            ></span
          ></template
        >
      </EntryForm>
    </template>
    <p v-else role="status">Looking at each …</p>
  </ElDialog>
</template>

<style scoped>
.rows {
  max-height: 320px;
  overflow: auto;
  margin: 8px 0 14px;
}
.nowrap {
  white-space: nowrap;
}
</style>
