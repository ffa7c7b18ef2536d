<script setup lang="ts">
import { ElButton } from 'element-plus'
import FileField from '#web/shared/FileField.vue'
import { t } from '#web/shared/language.ts'

/** Files that hang on what is being written: more are added, wrong ones taken off. */
interface Hung {
  readonly id: string
  readonly name: string
}
const files = defineModel<Hung[]>({ required: true })
const props = defineProps<{ send: (file: File) => Promise<Hung | undefined>; busy?: boolean; mark?: string }>()
async function add(chosen: readonly File[]): Promise<void> {
  for (const file of chosen) {
    const kept = await props.send(file)
    if (kept) files.value = [...files.value, { id: kept.id, name: kept.name }]
  }
}
</script>

<template>
  <div class="hung" data-place="fileIds">
    <span v-for="file in files" :key="file.id" class="file"
      >{{ file.name }}
      <ElButton
        link
        :aria-label="t('Take off {name}', { name: file.name })"
        @click="files = files.filter(one => one.id !== file.id)"
        >{{ t('Take off') }}</ElButton
      ></span
    ><FileField :label="t('Add files')" multiple :busy="busy" :mark="mark" @choose="add" />
  </div>
</template>

<style scoped>
.hung {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: center;
  grid-column: 1 / -1;
}
</style>
