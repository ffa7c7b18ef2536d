<script setup lang="ts">
import { ElButton, ElRadio, ElRadioGroup, ElTag } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { type Language, LANGUAGES } from '#contract/messages/languages.ts'
import { mailsEn, type MailTemplate } from '#contract/messages/mails.ts'
import { MAIL_TEMPLATES } from '#contract/messages/ownWords.ts'
import { ExportRegister, ReadRegister } from '#contract/setup/registers.ts'
import { pathOf } from '#web/api.ts'
import MailSender from '#web/setup/MailSender.vue'
import MailTextForm from '#web/setup/MailTextForm.vue'
import { useRead } from '#web/shared/useRead.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What the house's mails say, mail by mail and language by language: as they come with the program, or in the house's own words. */
const at = { params: { register: 'mailTexts' as const } }
const { data, reload } = useRead(ReadRegister, at)
const language = ref<Language>('en')
const edited = shallowRef<MailTemplate>()
const names = new Intl.DisplayNames('en', { type: 'language' })
const own = computed(
  () => new Map((data.value?.entries ?? []).map(entry => [`${entry.values.template} ${entry.values.language}`, entry])),
)
const ours = (template: MailTemplate, of: Language = language.value) => {
  const entry = own.value.get(`${template} ${of}`)
  return entry?.open ? entry : undefined
}
/** The subject as a name: what the mail is about, without its details. */
const nameOf = (template: MailTemplate): string =>
  mailsEn[template].subject
    .replace(/\[\w+\|([^\]]*)\]/g, ' $1')
    .replace(/\{(\w+)\}/g, '…')
    .replace(/[\s,:]+…$/, ' …')
    .trim()
async function done(): Promise<void> {
  edited.value = undefined
  await reload()
}
</script>

<template>
  <section v-if="data" class="section">
    <h1>Mails</h1>
    <p class="quiet">
      What leaves by mail, and in which words. Suppliers get theirs in their language, people of the team in that of
      their dates.
    </p>
    <MailSender />
    <p class="bar">
      <ElRadioGroup v-model="language" aria-label="Language"
        ><ElRadio v-for="one in LANGUAGES" :key="one" :value="one" :data-test="`mails-${one}`">{{
          names.of(one)
        }}</ElRadio></ElRadioGroup
      ><a :href="pathOf(ExportRegister, { register: 'mailTexts' })" download>CSV of our own</a>
    </p>
    <LineTable
      data-test="mail-texts"
      :rows="MAIL_TEMPLATES"
      :columns="lineColumns({ mail: 'Mail', words: 'Words', '#acts': 'Open' })"
      label="Mails"
      :key-of="template => template"
      ><template #mail="{ row: template }">{{ nameOf(template) }}</template>
      <template #words="{ row: template }"
        ><ElTag v-if="ours(template)" size="small">ours</ElTag><span v-else class="quiet">as it comes</span></template
      >
      <template #acts="{ row: template }">
        <ElButton link type="primary" :data-test="`mail-${template}`" @click="edited = template">look, change</ElButton>
      </template></LineTable
    >
    <MailTextForm
      v-if="edited"
      :template="edited"
      :language="language"
      :entry="own.get(`${edited} ${language}`)"
      @close="edited = undefined"
      @done="done"
    />
  </section>
</template>
