<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { reactive } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { Invite, ReadOnboarding } from '#contract/source/onboarding.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'

/** Whom at the supplier one asks, and what. */
const props = defineProps<{
  sheet: ResponseOf<typeof ReadOnboarding>
  busy: boolean
  reasons: readonly ReasonJson[]
}>()
const emit = defineEmits<{ send: [body: Omit<BodyOf<typeof Invite>, 'version'>]; close: [] }>()
const { questionnaires, invited } = props.sheet
const form = reactive({
  name: invited.name,
  email: invited.email,
  questionnaireId: questionnaires.find(one => one.fits)?.id ?? questionnaires[0]?.id ?? '',
  message: '',
})
</script>

<template>
  <ElDialog :model-value="true" title="Invite the supplier" width="520px" @close="emit('close')">
    <p>They get a link that works once and for 14 days. Inviting again makes an earlier link worthless.</p>
    <EntryForm :reasons="reasons" :busy="busy" columns class="grid" @submit="emit('send', { ...form })">
      <FormField label="Name" place="name"><ElInput v-model="form.name" data-test="invite-name" /></FormField>
      <FormField label="Mail address" place="email"><ElInput v-model="form.email" data-test="invite-mail" /></FormField>
      <FormField label="Questionnaire" place="questionnaireId" whole
        ><ElSelect v-model="form.questionnaireId"
          ><ElOption
            v-for="one in questionnaires"
            :key="one.id"
            :value="one.id"
            :label="`${one.name}, version ${one.number}${one.fits ? '' : ' (not meant for it)'}`" /></ElSelect
      ></FormField>
      <FormField label="A word of your own" place="message" whole
        ><ElInput v-model="form.message" type="textarea" :rows="3"
      /></FormField>
      <template #acts
        ><ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || !form.name || !form.email || !form.questionnaireId"
          data-test="send-invitation"
          >Send the invitation</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      >
    </EntryForm>
  </ElDialog>
</template>

<style scoped>
.grid {
  margin: 12px 0;
}
</style>
