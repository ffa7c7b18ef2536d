<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus'
import { computed, reactive } from 'vue'
import { de } from '#contract/messages/de/index.ts'
import type { Language } from '#contract/messages/languages.ts'
import { mailsEn, type MailTemplate, type MailWords } from '#contract/messages/mails.ts'
import { detailsOf, sampleDetails } from '#contract/messages/ownWords.ts'
import { writeMail } from '#contract/messages/translate.ts'
import { DropEntry, type EntryJson, SaveEntry } from '#contract/setup/registers.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'

/** The words of one mail in one language, and beside them the mail as somebody would get it. */
const props = defineProps<{ template: MailTemplate; language: Language; entry: EntryJson | undefined }>()
const emit = defineEmits<{ close: []; done: [] }>()
const session = useSession()
const { busy, reasons, run } = useAction()
const at = { params: { register: 'mailTexts' as const } }
const built: MailWords = props.language === 'de' ? de.mails[props.template]! : mailsEn[props.template]
const now = props.entry?.open ? props.entry.values : built
const form = reactive({ subject: now.subject ?? '', text: now.text ?? '' })
const changed = computed(() => form.subject !== built.subject || form.text.trim() !== built.text.trim())
const preview = computed(() => writeMail(props.template, props.language, sampleDetails(props.template), { ...form }))
async function save(): Promise<void> {
  const values = { template: props.template, language: props.language, ...form }
  const body = { id: props.entry?.id ?? null, version: props.entry?.version ?? 0, values, open: true }
  if (await run(() => api(SaveEntry, { ...at, body }))) emit('done')
}
async function asItComes(): Promise<void> {
  const params = { register: 'mailTexts' as const, id: props.entry!.id }
  if (await run(() => api(DropEntry, { params, body: { version: props.entry!.version } }))) emit('done')
}
</script>

<template>
  <ElDialog :model-value="true" title="Words of a mail" width="940px" @close="emit('close')">
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <div class="two">
        <div>
          <FormField label="Subject" place="subject"
            ><ElInput v-model="form.subject" maxlength="120" data-test="mail-subject"
          /></FormField>
          <FormField
            label="Text"
            place="text"
            help="{detail} is filled in; [detail|…] stands only where the detail says something."
            ><ElInput v-model="form.text" type="textarea" :rows="13" maxlength="4000" data-test="mail-text"
          /></FormField>
          <p class="quiet">Details: {{ detailsOf(template).join(', ') }}</p>
        </div>
        <section class="preview" aria-label="As somebody would get it" data-test="mail-preview">
          <b>{{ preview.subject }}</b>
          <pre>{{ preview.text }}</pre>
        </section>
      </div>
      <template v-if="session.may('setup.write')" #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || !changed || !form.subject.trim()"
          data-test="save-mail"
          >Use these words</ElButton
        ><ElButton v-if="entry" :disabled="busy" data-test="mail-as-it-comes" @click="asItComes"
          >As it comes with the program</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
  gap: 22px;
}
.preview {
  background: var(--page);
  border: 1px solid var(--rule);
  padding: 14px 16px;
  min-width: 0;
}
pre {
  font: inherit;
  white-space: pre-wrap;
  margin: 10px 0 0;
}
</style>
