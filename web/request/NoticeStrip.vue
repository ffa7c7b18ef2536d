<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref, shallowRef, watch } from 'vue'
import { ListNotices, type NoticeJson, ReadNotice } from '#contract/request/forms.ts'
import { api } from '#web/api.ts'
import { day } from '#web/shared/words.ts'

/** What purchasing wants said about what is looked at here. A notice that was read stays away. */
const props = defineProps<{ categories: readonly string[]; suppliers: readonly string[] }>()
const notices = shallowRef<readonly NoticeJson[]>([])
const opened = ref('')
async function load(): Promise<void> {
  const answer = await api(ListNotices, {
    query: { categories: props.categories.join('|').slice(0, 1000), suppliers: props.suppliers.slice(0, 40).join('|') },
  }).catch(() => undefined)
  if (answer) notices.value = answer.notices.filter(one => !one.read)
}
watch(
  () => `${props.categories.join()} ${props.suppliers.join()}`,
  () => void load(),
  { immediate: true },
)
async function read(id: string): Promise<void> {
  notices.value = notices.value.filter(one => one.id !== id)
  await api(ReadNotice, { params: { id } })
}
</script>

<template>
  <aside v-if="notices.length" class="notices" aria-label="From purchasing">
    <div v-for="one in notices" :key="one.id" class="notice" :data-test="`notice-${one.id}`">
      <p>
        <span class="quiet">From purchasing, until {{ day(one.toDay) }}</span> <b>{{ one.title }}</b>
        <ElButton
          link
          v-if="one.body"
          :aria-expanded="opened === one.id"
          @click="opened = opened === one.id ? '' : one.id"
        >
          {{ opened === one.id ? 'less' : 'more' }}
        </ElButton>
        <ElButton link class="done" @click="read(one.id)">I have read it</ElButton>
      </p>
      <p v-if="opened === one.id" class="body">{{ one.body }}</p>
    </div>
  </aside>
</template>

<style scoped>
.notices {
  margin: 10px 0;
}
.notice {
  border-left: 3px solid var(--tide-mid);
  padding: 4px 12px;
  font-size: 12.5px;
}
.done {
  margin-left: 10px;
}
.body {
  white-space: pre-line;
  max-width: 620px;
  margin-top: 4px;
}
</style>
