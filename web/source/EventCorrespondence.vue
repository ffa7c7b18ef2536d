<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { EventFile, type ReadEvent, ReadMessages, WriteMessage } from '#contract/source/events.ts'
import { api, pathOf, upload } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { stamp } from '#web/shared/words.ts'

/** What we and those who are asked write to each other: to all, or to one. What one is told about the question, all should be told. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadEvent> }>()
const emit = defineEmits<{ changed: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const ALL = 'all'
const to = ref(ALL)
const text = ref('')
const answers = ref<string | null>(null)
const files = ref<{ id: string; name: string }[]>([])
const unread = computed(() => props.sheet.messages.filter(one => one.unread).length)
const may = computed(() => session.may('event.write') && props.sheet.state !== 'cancelled')

// what is shown here is read
watch(
  unread,
  count => {
    if (count > 0 && session.may('event.read'))
      void api(ReadMessages, { params: { id: props.sheet.id } }).catch(() => undefined)
  },
  { immediate: true },
)
async function choose(chosen: readonly File[]): Promise<void> {
  for (const file of chosen) {
    const kept = await run(() => upload(file))
    if (kept) files.value.push(kept)
  }
}
async function send(): Promise<void> {
  const toSupplierId = to.value === ALL ? null : to.value
  const body = { toSupplierId, text: text.value, fileIds: files.value.map(one => one.id), answersId: answers.value }
  if (!(await run(() => api(WriteMessage, { params: { id: props.sheet.id }, body })))) return
  text.value = ''
  files.value = []
  answers.value = null
  emit('changed')
}
</script>

<template>
  <section class="section" data-test="correspondence">
    <h2>
      Correspondence <span v-if="unread" class="tone-attention small">{{ unread }} unread</span>
    </h2>
    <ol v-if="sheet.messages.length">
      <li v-for="one in sheet.messages" :key="one.id" :class="{ theirs: one.from !== null }">
        <p class="head">
          <b>{{ one.from ?? one.by }}</b>
          <span class="quiet"
            >{{ stamp(one.at) }}, {{ one.from ? 'to us' : one.to ? `to ${one.to} only` : 'to all' }}</span
          >
          <ElButton
            v-if="one.from && may"
            link
            data-test="answer-to-all"
            @click="
              () => {
                to = ALL
                answers = one.id
              }
            "
            >answer to all</ElButton
          >
        </p>
        <p class="text">{{ one.text }}</p>
        <p v-for="file in one.files" :key="file.id">
          <a :href="pathOf(EventFile, { id: sheet.id, fileId: file.id })" target="_blank">{{ file.name }}</a>
        </p>
      </li>
    </ol>
    <p v-else class="empty">Nobody has written yet. What is told to all reaches all in the same moment.</p>
    <div v-if="may" class="write">
      <p class="bar">
        <ElSelect v-model="to" aria-label="To" data-test="message-to" class="to"
          ><ElOption :value="ALL" label="To all who are asked" /><ElOption
            v-for="one in sheet.invited.filter(other => other.sentAt)"
            :key="one.supplierId"
            :value="one.supplierId"
            :label="`To ${one.name} only`" /></ElSelect
        ><span v-if="answers" class="quiet">An answer to a question; who asked is not named.</span>
      </p>
      <ElInput
        v-model="text"
        type="textarea"
        :rows="2"
        aria-label="Message"
        placeholder="Write"
        data-test="message-text"
      />
      <p v-if="files.length" class="quiet">{{ files.map(one => one.name).join(', ') }}</p>
      <p class="bar">
        <ElButton :disabled="busy || text.trim() === ''" data-test="send-message" @click="send">{{
          to === ALL ? 'Send to all' : 'Send'
        }}</ElButton><FileField label="Add files" multiple :busy="busy" @choose="choose" />
      </p>
      <ReasonList :reasons="reasons" />
    </div>
  </section>
</template>

<style scoped>
ol {
  list-style: none;
  padding: 0;
  margin: 6px 0 10px;
}
li {
  padding: 7px 0;
  border-bottom: 1px solid var(--rule-light);
}
.theirs {
  padding-left: 12px;
  border-left: 2px solid var(--tide-mid);
}
.head {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.text {
  white-space: pre-line;
  max-width: 640px;
}
.small {
  font: 500 12px var(--sans);
}
.write {
  display: grid;
  gap: 6px;
  max-width: 640px;
}
.to {
  width: 260px;
}
</style>
