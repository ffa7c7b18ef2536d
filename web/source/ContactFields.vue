<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import { LANGUAGES } from '#contract/messages/languages.ts'
import { CONTACT_ROLES, type SupplierBody } from '#contract/source/record.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { toggled } from '#web/source/toggled.ts'
import FormField from '#web/shared/FormField.vue'

/** People at a supplier, and what each is written to about. */
/** Official languages of the European Union and its neighbours (ISO 639-1), those of the house first. */
const READ = [
  ...new Set([
    ...LANGUAGES,
    ...'bg cs da el es et fi fr ga hr hu is it lt lv mt nb nl pl pt ro sk sl sv tr uk'.split(' '),
  ]),
]
const names = new Intl.DisplayNames('en', { type: 'language' })
const contacts = defineModel<SupplierBody['contacts']>({ required: true })
</script>

<template>
  <section class="section">
    <h2>Contacts</h2>
    <div v-for="(one, index) in contacts.slice(0, 100)" :key="index" class="block">
      <div class="form-grid">
        <FormField label="Name"><ElInput v-model="one.name" data-test="contact-name" /></FormField
        ><FormField label="Mail address"><ElInput v-model="one.email" data-test="contact-email" /></FormField
        ><FormField label="Telephone"><ElInput v-model="one.phone" /></FormField
        ><FormField label="Language"
          ><ElSelect v-model="one.language" filterable default-first-option
            ><ElOption v-for="code in READ" :key="code" :value="code" :label="names.of(code)" /></ElSelect
        ></FormField>
      </div>
      <p class="bar">
        <ElCheckbox
          v-for="role in CONTACT_ROLES"
          :key="role"
          :model-value="one.roles.includes(role)"
          :label="laterLabel('contact role', role)"
          @change="one.roles = toggled(one.roles, role)"
        /><ElButton link @click="contacts.splice(index, 1)">take out</ElButton>
      </p>
    </div>
    <p v-if="contacts.length > 100" class="quiet">{{ contacts.length - 100 }} more are kept as they are.</p>
    <ElButton link @click="contacts.unshift({ name: '', email: '', phone: '', language: 'en', roles: ['orders'] })">
      Add a contact
    </ElButton>
  </section>
</template>

<style scoped>
.block {
  border-bottom: 1px solid var(--rule-light);
  padding-bottom: 8px;
  margin-bottom: 10px;
}
.section {
  margin-top: 10px;
}
</style>
