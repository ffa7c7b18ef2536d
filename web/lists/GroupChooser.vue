<script setup lang="ts">
import { Layers } from '@lucide/vue'
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { ListPage } from '#contract/fields.ts'
import FormField from '#web/shared/FormField.vue'
import MenuPopover from '#web/shared/MenuPopover.vue'
import ToolButton from '#web/shared/ToolButton.vue'
import { label } from '#web/shared/words.ts'

/** What a list is put together by: one column or two. */
const props = defineProps<{ page: ListPage; group: string | undefined }>()
const emit = defineEmits<{ group: [group: string | undefined] }>()
const now = computed(() => (props.group ?? '').split(',').filter(Boolean))
const choices = computed(() => props.page.columns.filter(column => column.grouped))
function choose(place: 0 | 1, key: string): void {
  const next = place === 0 ? [key, now.value[1] ?? ''] : [now.value[0] ?? '', key]
  const some = [...new Set(next.filter(Boolean))].join(',')
  emit('group', some || undefined)
}
</script>

<template>
  <MenuPopover :width="250" placement="bottom-end">
    <template #button><ToolButton :icon="Layers" name="Groups" :on="now.length > 0" data-test="groups" /></template>
    <FormField label="Put together by"
      ><ElSelect
        :model-value="now[0] ?? ''"
        clearable
        filterable
        default-first-option
        :value-on-clear="''"
        :teleported="false"
        placeholder="nothing"
        data-test="group-by"
        @update:model-value="choose(0, $event as string)"
        ><ElOption v-for="one in choices" :key="one.key" :value="one.key" :label="label('column', one.key)" /></ElSelect
    ></FormField>
    <FormField v-if="now.length > 0" label="And within that by"
      ><ElSelect
        :model-value="now[1] ?? ''"
        clearable
        filterable
        default-first-option
        :value-on-clear="''"
        :teleported="false"
        placeholder="nothing"
        data-test="group-within"
        @update:model-value="choose(1, $event as string)"
        ><ElOption
          v-for="one in choices.filter(choice => choice.key !== now[0])"
          :key="one.key"
          :value="one.key"
          :label="label('column', one.key)" /></ElSelect
    ></FormField>
    <ElButton v-if="now.length" link data-test="groups-none" @click="emit('group', undefined)"
      >row by row again</ElButton
    >
  </MenuPopover>
</template>
