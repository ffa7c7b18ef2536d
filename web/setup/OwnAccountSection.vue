<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, reactive, ref } from 'vue'
import { ReadOwnAccount, SaveOwnAccount } from '#contract/setup/endpoints.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

/** The account from which payment runs are paid. */
const session = useSession()
const { busy, reasons, run } = useAction()
const form = reactive({ name: '', iban: '', bic: '' })
const kept = ref(false)

onMounted(async () => {
  const { account } = await api(ReadOwnAccount)
  if (account) Object.assign(form, account)
})
async function save(): Promise<void> {
  kept.value = false
  const done = await run(() => api(SaveOwnAccount, { body: { ...form, bic: form.bic.trim().toUpperCase() } }))
  if (!done) return
  Object.assign(form, done.account)
  kept.value = true
}
</script>

<template>
  <section class="section" data-test="own-account">
    <h1>The account we pay from</h1>
    <p class="quiet">Payment runs that are proposed from now on are paid from it. A bank in the SEPA needs no BIC.</p>
    <div class="fields">
      <label class="field" data-place="name"
        >Name<ElInput v-model="form.name" maxlength="140" :disabled="!session.may('setup.write')"
      /></label>
      <label class="field" data-place="iban"
        >IBAN<ElInput v-model="form.iban" data-test="own-iban" :disabled="!session.may('setup.write')"
      /></label>
      <label class="field" data-place="bic"
        >BIC, if it has one<ElInput v-model="form.bic" data-test="own-bic" :disabled="!session.may('setup.write')"
      /></label>
    </div>
    <ReasonList :reasons="reasons" />
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton :disabled="busy || !form.name || !form.iban" data-test="save-own-account" @click="save"
        >Keep the account</ElButton
      ><span v-if="kept" class="quiet" role="status">Kept.</span>
    </p>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(200px, 1fr));
  gap: 12px;
}
.bar {
  margin-top: 10px;
}
</style>
