<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { TEAM_PERMISSIONS } from '#contract/permissions.ts'
import { ReadRoles, type RoleJson } from '#contract/setup/roles.ts'
import { useSession } from '#web/people/session.ts'
import RoleForm from '#web/setup/RoleForm.vue'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'

/** Who may what: every right against every role, and the people who have it. */
const session = useSession()
const { data, reload } = useRead(ReadRoles)
const edited = ref<RoleJson | 'new'>()
const said = ref('')
const roles = computed(() => data.value?.roles ?? [])
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
    <div v-if="data" class="matrix" tabindex="0" role="region" aria-label="Who may what">
      <table class="lines">
        <thead>
          <tr>
            <th>May</th>
            <th v-for="role in roles" :key="role.id" class="role" scope="col">
              <ElButton
                v-if="session.may('setup.write')"
                link
                :data-test="`role-${role.code}`"
                @click="edited = role"
                >{{ label('role', role.code) }}</ElButton><span v-else>{{ label('role', role.code) }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="right in TEAM_PERMISSIONS" :key="right">
            <th scope="row">{{ label('permission', right) }}</th>
            <td v-for="role in roles" :key="role.id" class="mark">
              <span v-if="role.permissions.includes(right)"
                ><span aria-hidden="true">●</span><span class="visually-hidden">yes</span></span
              >
            </td>
          </tr>
          <tr>
            <th scope="row">people</th>
            <td v-for="role in roles" :key="role.id" class="mark" :title="role.people.join(', ')">
              {{ role.people.length || '' }}
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <RoleForm v-if="edited" :role="edited === 'new' ? undefined : edited" @close="edited = undefined" @kept="kept" />
  </section>
</template>

<style scoped>
.tools {
  margin: 12px 0;
}
.matrix {
  position: relative;
  overflow-x: auto;
}
.role {
  min-width: 78px;
  vertical-align: bottom;
  white-space: normal;
  text-align: center;
}
.role .el-button {
  text-align: center;
}
.mark {
  text-align: center;
  color: var(--tide);
}
tbody th {
  font-weight: 400;
  text-align: left;
  color: var(--ink);
  white-space: nowrap;
  position: sticky;
  left: 0;
  background: var(--sheet);
  border-bottom: 1px solid var(--rule-light);
}
tbody td,
tbody th {
  padding: 3px 8px;
}
</style>
