<script setup lang="ts">
import { ElButton, ElCheckbox, ElCheckboxGroup, ElDialog, ElInput } from 'element-plus'
import { reactive } from 'vue'
import { TEAM_PERMISSIONS } from '#contract/permissions.ts'
import { DropRole, type RoleJson, SaveRole } from '#contract/setup/roles.ts'
import { MONEY_RIGHTS } from '#core/people/roles.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What a role allows. The name of a role stays: people, rules and views are given to it by name. */
const props = defineProps<{ role: RoleJson | undefined }>()
const emit = defineEmits<{ close: []; kept: [waits: boolean] }>()
const { busy, reasons, run } = useAction()
const form = reactive({ name: props.role?.code ?? '', permissions: [...(props.role?.permissions ?? [])] })

async function save(): Promise<void> {
  const body = {
    id: props.role?.id ?? null,
    name: form.name,
    permissions: form.permissions.filter(one => (TEAM_PERMISSIONS as readonly string[]).includes(one)),
    version: props.role?.version ?? 0,
  }
  const done = await run(() => api(SaveRole, { body }))
  if (done) emit('kept', done.waits)
}
async function drop(): Promise<void> {
  const { id, version } = props.role!
  if (await run(() => api(DropRole, { params: { id }, body: { version } }))) emit('kept', false)
}
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="role ? label('role', role.code) : 'A new role'"
    width="640px"
    @close="emit('close')"
  >
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <FormField v-if="!role" label="Name" place="name" help="It stays: people are given the role by it."
        ><ElInput v-model="form.name" maxlength="40" data-test="role-name"
      /></FormField>
      <p v-else-if="role.people.length" class="quiet">Has it: {{ role.people.join(', ') }}.</p>
      <FormField label="Allows to" place="permissions" help="In bold: power over money, given by two people."
        ><ElCheckboxGroup v-model="form.permissions" class="rights"
          ><ElCheckbox
            v-for="right in TEAM_PERMISSIONS"
            :key="right"
            :value="right"
            :label="laterLabel('permission', right)"
            :class="{ money: MONEY_RIGHTS.has(right) }"
            :data-test="`right-${right}`" /></ElCheckboxGroup
      ></FormField>
      <template #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy || !form.name" data-test="save-role"
          >Keep it</ElButton
        ><ElButton
          v-if="role?.own && role.people.length === 0"
          type="danger"
          :disabled="busy"
          data-test="drop-role"
          @click="drop"
          >Take it out</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.rights {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(250px, 1fr));
  width: 100%;
}
.money :deep(.el-checkbox__label) {
  font-weight: 600;
}
.rights .el-checkbox {
  margin: 0;
  height: 26px;
  font-weight: 400;
}
</style>
