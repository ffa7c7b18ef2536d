<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadChoices } from '#contract/request/endpoints.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import DayField from '#web/shared/DayField.vue'

/** Sets account, day or place on all chosen lines at once. */
defineProps<{ count: number; choices: ResponseOf<typeof ReadChoices> | undefined }>()
const emit = defineEmits<{ set: [change: Partial<EditedLine>]; remove: []; all: [] }>()
const form = reactive({ accountId: '', needBy: null as string | null, addressId: '' })
const apply = (): void =>
  emit('set', {
    ...(form.accountId ? { splits: [{ accountId: form.accountId, share: '100' }], splitBy: 'percent' as const } : {}),
    ...(form.needBy ? { needBy: form.needBy } : {}),
    ...(form.addressId ? { addressId: form.addressId } : {}),
  })
</script>

<template>
  <div class="bulk" data-test="bulk">
    <b>{{ count }} {{ count === 1 ? 'line' : 'lines' }}</b>
    <ElSelect
      v-model="form.accountId"
      filterable
      default-first-option
      clearable
      :value-on-clear="''"
      placeholder="account"
      aria-label="Account"
      style="width: 260px"
      data-test="bulk-account"
      ><ElOption v-for="one in choices?.accounts" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
    ><DayField v-model="form.needBy" label="Needed by" empty="needed by" class="day" /><ElSelect
      v-model="form.addressId"
      filterable
      default-first-option
      clearable
      :value-on-clear="''"
      placeholder="place"
      aria-label="Place"
      style="width: 200px"
      ><ElOption v-for="one in choices?.addresses" :key="one.id" :value="one.id" :label="one.label"
    /></ElSelect>
    <ElButton size="small" data-test="bulk-apply" @click="apply">Set</ElButton
    ><ElButton link @click="emit('remove')">take out</ElButton><ElButton link @click="emit('all')">choose all</ElButton>
  </div>
</template>

<style scoped>
.bulk {
  position: sticky;
  top: 0;
  z-index: 5;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: center;
  background: var(--sheet);
  padding: 8px 0;
  border-bottom: 1px solid var(--rule);
}
.bulk :deep(.el-date-editor) {
  width: 140px;
}
</style>
