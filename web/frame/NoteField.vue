<script setup lang="ts">
import 'element-plus/theme-chalk/el-mention.css'
import { ElButton, ElMention } from 'element-plus'
import { computed, ref } from 'vue'
import { ListNameable, WriteNote } from '#contract/files/endpoints.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Writes a note beside a document; `@` and a name tell somebody of it. */
const props = defineProps<{ documentKind: DocumentKind; documentId: string }>()
const emit = defineEmits<{ written: [] }>()
const { busy, reasons, run } = useAction()
const text = ref('')
const { data } = useRead(ListNameable)
const people = computed(() => data.value?.people ?? [])
const options = computed(() => people.value.map(one => ({ value: one.name, label: one.name })))
const named = computed(() => people.value.filter(one => text.value.includes(`@${one.name}`)))

async function write(): Promise<void> {
  const body = { ...props, text: text.value, names: named.value.map(one => one.id) }
  if (!(await run(() => api(WriteNote, { body })))) return
  text.value = ''
  emit('written')
}
</script>

<template>
  <ElMention
    v-model="text"
    type="textarea"
    :rows="text ? 3 : 1"
    :options="options"
    whole
    placeholder="Write a note; @ tells somebody"
    aria-label="Write a note"
    data-test="note"
  />
  <p v-if="named.length" class="quiet">
    {{ named.map(one => one.name).join(', ') }} {{ named.length === 1 ? 'finds' : 'find' }} it on the Desk and by mail.
  </p>
  <p v-if="text.trim()" class="bar small">
    <ElButton size="small" :disabled="busy" data-test="write-note" @click="write">Keep note</ElButton>
  </p>
  <ReasonList :reasons="reasons" />
</template>
