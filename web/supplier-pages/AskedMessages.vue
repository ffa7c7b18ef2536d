<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AskedFile, type ReadAsked, UploadAskedFile, WriteAsked } from '#contract/source/asked.ts'
import { api, pathOf, upload } from '#web/api.ts'
import FileField from '#web/shared/FileField.vue'
import { t } from '#web/shared/language.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { stamp } from '#web/shared/words.ts'

/** What the buyer and this supplier write to each other; of others' questions only the answers that go to all. */
const props = defineProps<{ asked: ResponseOf<typeof ReadAsked> }>()
const emit = defineEmits<{ changed: [] }>()
const { busy, reasons, run } = useAction()
const text = ref('')
const files = ref<{ id: string; name: string }[]>([])
async function attach(chosen: readonly File[]): Promise<void> {
  for (const file of chosen) {
    const kept = await run(() => upload(file, UploadAskedFile.path))
    if (kept) files.value.push(kept)
  }
}
async function send(): Promise<void> {
  const body = { text: text.value, fileIds: files.value.map(one => one.id) }
  if (!(await run(() => api(WriteAsked, { params: { id: props.asked.id }, body })))) return
  text.value = ''
  files.value = []
  emit('changed')
}
</script>

<template>
  <section class="section" data-test="asked-messages">
    <h2>{{ t('Correspondence') }}</h2>
    <p v-for="one in asked.messages" :key="one.id" class="one" :class="{ own: one.from !== null }">
      <b>{{ one.from ? t('You') : asked.house }}</b>
      <span class="quiet"
        >{{ stamp(one.at) }}{{ one.from ? '' : one.to ? `, ${t('to you')}` : `, ${t('to all')}` }}</span
      ><br />{{ one.text }}
      <a
        v-for="file in one.files"
        :key="file.id"
        :href="pathOf(AskedFile, { id: asked.id, fileId: file.id })"
        target="_blank"
        >{{ file.name }}</a
      >
    </p>
    <template v-if="asked.may.write?.length === 0">
      <ElInput
        v-model="text"
        type="textarea"
        :rows="2"
        :placeholder="t('Write to the buyer')"
        :aria-label="t('Write to the buyer')"
        data-test="asked-text"
      />
      <p v-if="files.length" class="quiet">{{ files.map(one => one.name).join(', ') }}</p>
      <p class="bar">
        <ElButton :disabled="busy || text.trim() === ''" data-test="asked-send" @click="send">{{
          t('Send')
        }}</ElButton><FileField :label="t('Add files')" multiple :busy="busy" @choose="attach" />
      </p>
      <ReasonList :reasons="reasons" />
    </template>
  </section>
</template>

<style scoped>
.one {
  padding: 6px 0;
  white-space: pre-line;
}
.own {
  padding-left: 10px;
  border-left: 2px solid var(--tide-mid);
}
</style>
