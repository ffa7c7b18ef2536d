<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, nextTick, reactive, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadPieces, TellAsset } from '#contract/receive/assets.ts'
import { readScan } from '#core/receive/scan.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Asks for tag and serial number of each piece, one after the other; whatever is left waits in the list of the unfinished. */
const props = defineProps<{ orderId?: string }>()
const emit = defineEmits<{ close: [] }>()
const { busy, reasons, run, clear } = useAction()
const { data } = useRead(ReadPieces, () => ({ query: props.orderId ? { orderId: props.orderId } : {} }))
const at = ref(0)
const form = reactive({ tag: '', serial: '' })
const serialField = ref<InstanceType<typeof ElInput>>()
const proposed = ref('')
/** As they were when it was opened: whoever finishes one must not shift the others. */
const pieces = shallowRef<ResponseOf<typeof ReadPieces>['pieces']>([])
watch(data, now => {
  if (now && pieces.value.length === 0) pieces.value = now.pieces
})
const piece = computed(() => pieces.value[at.value])
const finished = ref(0)

function show(next: string | null | undefined): void {
  clear()
  const now = piece.value
  if (!now) return
  proposed.value = next ?? ''
  Object.assign(form, { tag: now.tag || proposed.value, serial: now.serial })
  void nextTick(() => serialField.value?.focus())
}
const begin = computed(() => data.value?.nextTags[piece.value?.tagRange ?? ''])
const started = ref(false)
function start(): void {
  if (started.value || !piece.value) return
  started.value = true
  show(begin.value)
}
async function keep(): Promise<void> {
  const now = piece.value!
  const { serial } = readScan(form.serial)
  const body = { version: now.version, tag: form.tag, serial: serial ?? form.serial }
  const done = await run(() => api(TellAsset, { params: { id: now.id }, body }))
  if (!done) return
  if (done.state === 'inUse') finished.value++
  at.value++
  show(done.nextTag)
}
function skip(): void {
  const kept = proposed.value
  at.value++
  show(kept)
}
</script>

<template>
  <ElDialog :model-value="true" title="Tags and serial numbers" width="520px" data-test="pieces" @close="emit('close')">
    <template v-if="data"
      ><template v-if="piece"
        ><p @vue:mounted="start">
          <b data-test="piece-of">{{ at + 1 }} of {{ pieces.length }}</b
          >: {{ piece.description }}<small class="quiet">{{ piece.number }}, from {{ piece.order }}</small>
        </p>
        <EntryForm :reasons="reasons" :busy="busy" @submit="keep">
          <FormField
            label="Our tag"
            place="tag"
            :help="form.tag && form.tag === proposed ? 'the next of the range' : ''"
            ><ElInput v-model="form.tag" maxlength="40" data-test="piece-tag" /></FormField
          ><FormField
            :label="piece.needsSerial ? 'Serial number' : 'Serial number, if it has one'"
            place="serial"
            help="Scan or type it"
            ><ElInput ref="serialField" v-model="form.serial" maxlength="60" data-test="piece-serial" /></FormField
          ><template #acts
            ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="piece-next">{{
              at + 1 < pieces.length ? 'Keep it, next' : 'Keep it'
            }}</ElButton
            ><ElButton data-test="piece-later" @click="skip">This one later</ElButton></template
          >
        </EntryForm></template
      >
      <p v-else class="tone-settled" data-test="pieces-done">
        {{
          pieces.length === 0
            ? 'Every piece has its tag.'
            : `${finished} finished${finished < pieces.length ? `, ${pieces.length - finished} wait in the list of the unfinished` : ''}.`
        }}
      </p></template
    >
    <template #footer><ElButton @click="emit('close')">Close</ElButton></template>
  </ElDialog>
</template>

<style scoped>
small {
  display: block;
}
.quiet {
  color: var(--ink-quiet);
}
</style>
