<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { reactive, watch } from 'vue'
import { ListPeople } from '#contract/setup/endpoints.ts'
import * as house from '#contract/setup/house.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { sayInPassing } from '#web/shared/message.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label } from '#web/shared/words.ts'

/** How people come in and stay. */
const session = useSession()
const { busy, reasons, run } = useAction()
const { data: all } = useRead(house.ReadOrganisation)
const { data: people } = useRead(ListPeople)
const form = reactive({ idleMinutes: '240', secondFactorRoles: [] as string[] })
watch(all, now => now && Object.assign(form, { ...now.signIn, idleMinutes: String(now.signIn.idleMinutes) }), {
  immediate: true,
})
async function save(): Promise<void> {
  const body = { ...form, idleMinutes: Number(form.idleMinutes) }
  if (await run(() => api(house.SaveSignIn, { body }))) sayInPassing('Kept.')
}
</script>

<template>
  <section v-if="all" class="section">
    <h1>Sign-in</h1>
    <EntryForm :reasons="reasons" :busy="busy" class="form" @submit="save">
      <FormField label="Minutes without use until a session ends" place="idleMinutes"
        ><NumberField v-model="form.idleMinutes" label="Minutes" width="120px" :disabled="!session.may('setup.write')"
      /></FormField>
      <FormField label="Roles that must have a second factor" place="secondFactorRoles"
        ><ElSelect
          v-model="form.secondFactorRoles"
          multiple
          placeholder="none must"
          :disabled="!session.may('setup.write')"
          ><ElOption
            v-for="one in people?.roles"
            :key="one.code"
            :value="one.code"
            :label="label('role', one.code)" /></ElSelect
      ></FormField>
      <template v-if="session.may('setup.write')" #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-sign-in"
          >Keep it</ElButton
        ></template
      >
    </EntryForm>
  </section>
</template>

<style scoped>
.form {
  max-width: 420px;
  margin-top: 12px;
}
</style>
