<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, nextTick, onMounted, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { type QuickLineJson, ReadQuickLines } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import { day, words } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'

/** One line of typing, or a pasted block: shows what it was understood as, lets it be corrected, and hands over what is clear. */
const props = defineProps<{ room: number; first: boolean }>()
const emit = defineEmits<{ add: [lines: NonNullable<QuickLineJson['line']>[]] }>()
const text = ref('')
const chosen = ref<Record<string, string>>({})
const read = shallowRef<QuickLineJson[]>([])
const left = ref(0)
const from = ref(0)
const field = ref<InstanceType<typeof ElInput>>()
const route = useRoute()
const pending = ref(false)
const { start: lookSoon, stop: notSoon } = useTimeoutFn(() => void look(), 220, { immediate: false })
let request = new AbortController()

async function look(): Promise<void> {
  notSoon()
  request.abort()
  const { signal } = (request = new AbortController())
  if (text.value.trim().length < 2) {
    read.value = []
    pending.value = false
    return
  }
  pending.value = true
  try {
    const answer = await api(ReadQuickLines, {
      body: { text: text.value, choices: chosen.value, from: from.value },
      signal,
    })
    if (signal.aborted) return
    read.value = answer.lines
    left.value = answer.left
    pending.value = false
  } catch {
    if (!signal.aborted) pending.value = false
  }
}
watch(text, () => {
  chosen.value = {}
  from.value = 0
  lookSoon()
})
onScopeDispose(() => request.abort())
/** A sentence that came along from the find-or-do field. */
onMounted(() => {
  if (typeof route.query.line === 'string') text.value = route.query.line
  if (text.value || (props.first && matchMedia('(min-width: 701px)').matches)) field.value?.focus()
})
const list = ref<HTMLElement>()
/** To the first part that still has several meanings, else back to the sentence. */
async function toNext(): Promise<void> {
  await nextTick()
  const open = list.value?.querySelector<HTMLElement>('.part.unsure input')
  if (open) open.focus()
  else field.value?.focus()
}
async function choose(index: number, kind: string, value: string): Promise<void> {
  chosen.value = { ...chosen.value, [`${index + from.value}.${kind}`]: value }
  await look()
  await toNext()
}
/** A digit chooses the meaning that has it. */
function byDigit(event: KeyboardEvent, index: number, part: QuickLineJson['parts'][number]): void {
  const reading = /^[1-9]$/.test(event.key) ? part.readings[Number(event.key) - 1] : undefined
  if (!reading) return
  event.preventDefault()
  event.stopPropagation()
  void choose(index, part.kind, reading.value)
}
/** A part is corrected where it was typed: its words are chosen in the field. */
function correct(words: string): void {
  const area = field.value?.textarea
  const at = text.value.indexOf(words)
  area?.focus()
  if (area && at >= 0) area.setSelectionRange(at, at + words.length)
}
function leaveOut(index: number): void {
  const lines = text.value.split('\n').filter(line => line.trim() !== '')
  text.value = lines.filter((_, at) => at !== index + from.value).join('\n')
}
const ready = computed(() => read.value.length > 0 && !pending.value && read.value.every(one => one.line !== null))
/** Enter adds when all is clear, after the answer that is under way; else it goes to what is still to be chosen. */
async function enter(): Promise<void> {
  if (pending.value || read.value.length === 0) await look()
  if (!ready.value) return await toNext()
  if (read.value.length > props.room) return
  emit(
    'add',
    read.value.map(one => one.line!),
  )
  if (left.value > 0) {
    from.value += read.value.length
    await look()
    return
  }
  text.value = ''
  read.value = []
}
const show = (kind: string, text_: string): string => (kind === 'date' ? day(text_) : text_)
</script>

<template>
  <div class="quick">
    <FormField label="A line as you would say it"
      ><ElInput
        ref="field"
        v-model="text"
        type="textarea"
        :autosize="{ minRows: 1, maxRows: 8 }"
        placeholder="12 boxes of paper to the main store by 4 Dec"
        data-test="quick-line"
        @keydown.enter.exact.prevent="enter"
    /></FormField>
    <ul v-if="read.length" ref="list" class="read" aria-live="polite">
      <li v-for="(one, index) in read" :key="index">
        <p class="parts">
          <span
            v-for="part in one.parts"
            :key="part.kind"
            class="part"
            :class="{
              unsure: part.readings.length > 1 && !chosen[`${index + from}.${part.kind}`],
              fault: !part.readings.length,
            }"
            :data-test="`part-${part.kind}`"
            ><small>{{ laterLabel('quick', part.kind) }}{{ part.assumed ? ', not said' : '' }}</small>
            <ElSelect
              v-if="part.readings.length > 1"
              size="small"
              :model-value="chosen[`${index + from}.${part.kind}`] ?? ''"
              :placeholder="`${part.readings.length} meanings`"
              :aria-label="laterLabel('quick', part.kind)"
              :data-test="`choose-${part.kind}`"
              @update:model-value="choose(index, part.kind, $event)"
              @keydown.capture="byDigit($event, index, part)"
              ><ElOption
                v-for="(reading, nth) in part.readings"
                :key="reading.value"
                :value="reading.value"
                :label="show(part.kind, reading.label)"
                ><span v-if="nth < 9" class="digit" aria-hidden="true">{{ nth + 1 }}</span
                >{{ show(part.kind, reading.label) }}</ElOption
              ></ElSelect
            >
            <ElButton
              link
              v-else
              class="wrap said"
              :title="part.text ? `“${part.text}”: change it` : ''"
              :data-test="`correct-${part.kind}`"
              @click="correct(part.text)"
            >
              {{
                part.readings.length
                  ? `${show(part.kind, part.readings[0]!.label)}${part.readings[0]!.currency ? ` ${part.readings[0]!.currency}` : ''}`
                  : part.text
              }}
            </ElButton></span
          >
        </p>
        <p v-for="reason in one.reasons" :key="reason.code + reason.place" class="field-fault">{{ words(reason) }}</p>
        <ElButton link v-if="read.length > 1 && !one.line" @click="leaveOut(index)"> leave this line out </ElButton>
      </li>
    </ul>
    <p v-if="ready && read.length <= room" class="quiet" role="status" data-test="quick-ready">
      Enter adds {{ read.length === 1 ? 'the line' : `${read.length} lines` }}.
    </p>
    <p v-else-if="read.length && !pending && !ready" class="quiet">
      Choose where several meanings are offered: Enter goes there, a digit chooses.
    </p>
    <p v-if="read.length > room" class="field-fault" data-test="quick-full">
      A request holds 500 lines; {{ room }} more fit in. Take the rest into another request.
    </p>
    <p v-else-if="left" class="quiet" data-test="quick-left">
      {{ left }} more lines wait; they come when these are added.
    </p>
  </div>
</template>

<style scoped>
.quick {
  margin: 18px 0 4px;
}
.read {
  list-style: none;
  padding: 0;
  margin: 6px 0;
}
li {
  padding: 4px 0;
  border-bottom: 1px solid var(--rule-light);
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
}
.part {
  display: inline-flex;
  flex-direction: column;
  border-top: 2px solid var(--rule);
  padding-top: 2px;
}
.part small {
  color: var(--ink-quiet);
  font-size: 11.3px;
}
.part .said {
  font-weight: 600;
  color: var(--ink);
  min-height: 24px;
}
.part.unsure {
  border-color: var(--brass);
}
.part.fault {
  border-color: var(--madder);
}
.digit {
  display: inline-block;
  width: 18px;
  color: var(--ink-quiet);
}
.part :deep(.el-select) {
  min-width: 200px;
}
</style>
