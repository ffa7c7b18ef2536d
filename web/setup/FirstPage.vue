<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref } from 'vue'
import { useRoute } from 'vue-router'
import { ReadFirst, SetUpHouse } from '#contract/setup/house.ts'
import { PASSWORD_LETTERS } from '#core/people/password.ts'
import DoorFrame from '#web/frame/DoorFrame.vue'
import { api } from '#web/api.ts'
import CodeLines from '#web/setup/CodeLines.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import FormField from '#web/shared/FormField.vue'

/** The first page of an empty house: what is asked once, before anybody can work. */
const route = useRoute()
const { busy, reasons, run } = useAction()
const token = String(route.params.token)
const open = ref<boolean>()
const zones = ref<string[]>([])
const currencies = ref<string[]>([])
const MONTHS = Array.from({ length: 12 }, (_, index) =>
  new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' }).format(new Date(Date.UTC(2026, index, 1))),
)
const house = reactive({
  name: '',
  street: '',
  postalCode: '',
  city: '',
  country: '',
  vat: '',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
  base: 'EUR',
  fiscalYearFrom: 1,
})
const administrator = reactive({ name: '', email: '', password: '' })
const costCentres = ref([{ code: '', name: '' }])
const accounts = ref([{ code: '', name: '' }])
const filled = <T extends { code: string }>(lines: readonly T[]): T[] => lines.filter(line => line.code.trim() !== '')
const ready = computed(
  () =>
    [house.name, house.street, house.postalCode, house.city, house.country].every(Boolean) &&
    administrator.name !== '' &&
    administrator.email !== '' &&
    administrator.password !== '' &&
    filled(costCentres.value).length > 0 &&
    filled(accounts.value).length > 0,
)

onMounted(async () => {
  const answer = await run(() => api(ReadFirst, { query: { token } }))
  open.value = answer?.open ?? false
  zones.value = answer?.zones ?? []
  currencies.value = answer?.currencies ?? []
})
async function setUp(): Promise<void> {
  const body = {
    token,
    house: { ...house, country: house.country.trim().toUpperCase() },
    administrator: { ...administrator, email: administrator.email.trim() },
    costCentres: filled(costCentres.value),
    accounts: filled(accounts.value),
  }
  if (await run(() => api(SetUpHouse, { body }))) location.assign('/setup')
}
</script>

<template>
  <DoorFrame title="Ivory Order" :width="760">
    <template v-if="open">
      <h1>Set your house up</h1>
      <p class="quiet">
        Asked once; all of it can be changed and added to in Setup. Budgets, people, suppliers and items come in from
        files there.
      </p>
      <EntryForm :reasons="reasons" :busy="busy" @submit="setUp">
        <section>
          <h2>Who you are</h2>
          <div class="grid">
            <FormField label="Name of the house" class="wide" place="house.name"
              ><ElInput v-model="house.name" data-test="house-name"
            /></FormField>
            <FormField label="Street and number" place="house.street"
              ><ElInput v-model="house.street" data-test="house-street"
            /></FormField>
            <FormField label="Postal code" place="house.postalCode"
              ><ElInput v-model="house.postalCode" data-test="house-postal"
            /></FormField>
            <FormField label="City" place="house.city"
              ><ElInput v-model="house.city" data-test="house-city"
            /></FormField>
            <FormField label="Country, two letters" place="house.country"
              ><ElInput v-model="house.country" maxlength="2" data-test="house-country"
            /></FormField>
            <FormField label="VAT number, if you have one" place="house.vat"
              ><ElInput v-model="house.vat" data-test="house-vat"
            /></FormField>
          </div>
        </section>
        <section>
          <h2>What your days and money are counted in</h2>
          <div class="grid">
            <FormField label="Time zone"
              ><ElSelect v-model="house.zone" filterable default-first-option
                ><ElOption v-for="zone in zones" :key="zone" :value="zone" /></ElSelect
            ></FormField>
            <FormField label="Base currency; it stays"
              ><ElSelect v-model="house.base" filterable default-first-option
                ><ElOption v-for="one in currencies" :key="one" :value="one" /></ElSelect
            ></FormField>
            <FormField label="The fiscal year begins in"
              ><ElSelect v-model="house.fiscalYearFrom"
                ><ElOption v-for="(month, index) in MONTHS" :key="month" :value="index + 1" :label="month" /></ElSelect
            ></FormField>
          </div>
        </section>
        <section>
          <h2>Cost centres</h2>
          <CodeLines v-model="costCentres" example="A-100" name="centre" />
        </section>
        <section>
          <h2>Accounts that purchases go to</h2>
          <CodeLines v-model="accounts" example="6010" name="account" />
        </section>
        <section>
          <h2>You, the first steward</h2>
          <div class="grid">
            <FormField label="Your name" place="administrator.name"
              ><ElInput v-model="administrator.name" autocomplete="name" data-test="admin-name"
            /></FormField>
            <FormField label="Mail address" place="administrator.email"
              ><ElInput v-model="administrator.email" autocomplete="username" data-test="admin-email"
            /></FormField>
            <FormField :label="`Password, of at least ${PASSWORD_LETTERS.least} letters`" place="password"
              ><ElInput
                v-model="administrator.password"
                type="password"
                show-password
                autocomplete="new-password"
                data-test="admin-password"
            /></FormField>
          </div>
        </section>
        <p class="bar">
          <ElButton type="primary" native-type="submit" :disabled="busy || !ready" data-test="set-up"
            >Set it up and come in</ElButton
          >
        </p>
      </EntryForm>
    </template>
    <template v-else-if="open === false">
      <h1>This link does not open</h1>
      <ReasonList :reasons="reasons" />
      <p>
        Either the house is set up already, then <RouterLink to="/sign-in">sign in</RouterLink>; or the link is too old,
        then <code>./ivory setup --link</code> on the server makes a new one.
      </p>
    </template>
  </DoorFrame>
</template>

<style scoped>
section {
  border-top: 1px solid var(--rule);
  margin-top: 18px;
  padding-top: 14px;
}
.grid {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(210px, 1fr));
  gap: 12px 16px;
  margin-top: 8px;
}
.wide {
  grid-column: 1 / -1;
}
.bar {
  margin-top: 18px;
}
</style>
