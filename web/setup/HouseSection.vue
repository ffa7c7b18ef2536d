<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive, watch } from 'vue'
import { type Language, LANGUAGES } from '#contract/messages/languages.ts'
import { ReadHouse, SaveHouse } from '#contract/setup/house.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import LogoField from '#web/setup/LogoField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { sayInPassing } from '#web/shared/message.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** Who we are, on orders and in mails. What money is counted in and when the year begins is said once, before the first request. */
const session = useSession()
const { busy, reasons, run } = useAction()
const { data: house, reload } = useRead(ReadHouse)
const form = reactive({
  name: '',
  street: '',
  postalCode: '',
  city: '',
  country: '',
  vat: '',
  zone: '',
  languages: [] as Language[],
})
const names = new Intl.DisplayNames('en', { type: 'language' })
const zones = Intl.supportedValuesOf('timeZone')
watch(
  house,
  now => {
    if (!now) return
    const { base: _base, seen: _seen, ...shown } = now
    Object.assign(form, shown, { languages: [...now.languages] })
  },
  { immediate: true },
)
async function save(): Promise<void> {
  if (!(await run(() => api(SaveHouse, { body: { ...form, seen: house.value!.seen } })))) return
  sayInPassing('Kept. New documents carry it.')
  await reload()
}
</script>

<template>
  <section v-if="house" class="section">
    <h1>Name and address</h1>
    <p class="quiet">Money is counted in {{ house.base }}; that stays, because everything that was entered is in it.</p>
    <EntryForm :reasons="reasons" :busy="busy" columns class="form" @submit="save">
      <FormField label="Name" place="name" whole><ElInput v-model="form.name" data-test="house-name" /></FormField>
      <FormField label="Street" place="street" whole><ElInput v-model="form.street" /></FormField>
      <FormField label="Postal code" place="postalCode"><ElInput v-model="form.postalCode" /></FormField>
      <FormField label="City" place="city"><ElInput v-model="form.city" /></FormField>
      <FormField label="Country" place="country" help="Two capitals, such as NL"
        ><ElInput v-model="form.country" maxlength="2"
      /></FormField>
      <FormField label="VAT number" place="vat"><ElInput v-model="form.vat" /></FormField>
      <FormField label="Time zone" place="zone" help="Days begin and end by it" whole
        ><ElSelect v-model="form.zone" filterable default-first-option
          ><ElOption v-for="one in zones" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <FormField
        label="Languages of pages, mails and orders for suppliers"
        place="languages"
        help="Whoever reads none of them gets the first"
        whole
        ><ElSelect v-model="form.languages" multiple data-test="house-languages"
          ><ElOption v-for="one in LANGUAGES" :key="one" :value="one" :label="names.of(one)" /></ElSelect
      ></FormField>
      <template v-if="session.may('setup.write')" #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-house"
          >Keep it</ElButton
        ></template
      >
    </EntryForm>
    <LogoField />
  </section>
</template>

<style scoped>
.form {
  max-width: 560px;
  margin-top: 12px;
}
</style>
