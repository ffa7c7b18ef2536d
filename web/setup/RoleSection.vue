<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { TEAM_PERMISSIONS } from '#contract/permissions.ts'
import { ReadRoles, type RoleJson } from '#contract/setup/roles.ts'
import { useSession } from '#web/people/session.ts'
import RoleForm from '#web/setup/RoleForm.vue'
import LineTable from '#web/shared/LineTable.vue'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Who may what: every right against every role, and the people who have it. */
const session = useSession()
const { data, reload } = useRead(ReadRoles)
const edited = ref<RoleJson | 'new'>()
const said = ref('')
const roles = computed(() => data.value?.roles ?? [])
const columns = computed(() => [
  { key: 'right', label: 'May', names: true },
  ...roles.value.map(role => ({ key: role.code, label: label('role', role.code) })),
])
const role = (code: string): RoleJson | undefined => roles.value.find(one => one.code === code)
/** A line for each right, and one for how many have the role. */
const rights = [
  ...TEAM_PERMISSIONS.map(right => ({
    key: right as string,
    label: laterLabel('permission', right),
    of: (code: string): boolean | number => role(code)?.permissions.includes(right) ?? false,
  })),
  { key: 'people', label: 'people', of: (code: string): boolean | number => role(code)?.people.length ?? 0 },
]
function kept(waits: boolean): void {
  edited.value = undefined
  said.value = waits ? 'More power over money waits until a second person has agreed.' : ''
  void reload()
}
</script>

<template>
  <section class="section" data-test="roles">
    <h1>Roles</h1>
    <p class="quiet">
      A role is nothing but what it allows. People have one or several, everywhere or for one cost centre.
    </p>
    <p v-if="session.may('setup.write')" class="bar tools">
      <ElButton type="primary" data-test="new-role" @click="edited = 'new'">Add a role</ElButton>
    </p>
    <p v-if="said" role="status">{{ said }}</p>
    <LineTable
      v-if="data"
      class="matrix"
      :rows="rights"
      :columns="columns"
      label="Who may what"
      :key-of="right => right.key"
    >
      <template #head="{ column }"
        ><ElButton
          v-if="column.key !== 'right' && session.may('setup.write')"
          link
          :data-test="`role-${column.key}`"
          @click="edited = role(column.key)"
          >{{ column.label }}</ElButton
        ><template v-else>{{ column.label }}</template></template
      >
      <template #right="{ row: right }">{{ right.label }}</template>
      <template #cell="{ row: right, column }"
        ><span v-if="right.of(column.key) === true"
          ><span aria-hidden="true">●</span><span class="visually-hidden">yes</span></span
        ><template v-else>{{ right.of(column.key) || '' }}</template></template
      >
    </LineTable>
    <RoleForm v-if="edited" :role="edited === 'new' ? undefined : edited" @close="edited = undefined" @kept="kept" />
  </section>
</template>

<style scoped>
.tools {
  margin: 12px 0;
}
.matrix :deep(thead th:not(:first-child)) {
  min-width: 78px;
  white-space: normal;
  text-align: center;
}
.matrix :deep(thead .el-button) {
  text-align: center;
}
.matrix :deep(td) {
  text-align: center;
  color: var(--tide);
}
.matrix :deep(tbody th) {
  font-weight: 400;
  color: var(--ink);
  white-space: nowrap;
  position: sticky;
  left: 0;
  background: var(--sheet);
  border-bottom: 1px solid var(--rule-light);
}
.matrix :deep(tbody :is(td, th)) {
  padding: 3px 8px;
}
</style>
