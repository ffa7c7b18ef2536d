<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import { ConfirmSecondFactor, StartSecondFactor } from '#contract/account/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import { t } from '#web/shared/language.ts'
import FormField from '#web/shared/FormField.vue'

/** Sets a second factor: a picture for the authenticator, and a code of it that shows that it works. */
const emit = defineEmits<{ done: [] }>()
const { busy, reasons, run } = useAction()
const started = shallowRef<ResponseOf<typeof StartSecondFactor>>()
const code = ref('')

onMounted(async () => {
  started.value = await run(() => api(StartSecondFactor))
})
async function confirm(): Promise<void> {
  const secret = started.value?.secret ?? ''
  if (await run(() => api(ConfirmSecondFactor, { body: { secret, code: code.value } }))) emit('done')
}
</script>

<template>
  <EntryForm class="factor" :reasons="reasons" :busy="busy" @submit="confirm">
    <template v-if="started">
      <p>{{ t('Scan this with an authenticator on your phone, then type the code that it shows.') }}</p>
      <img :src="started.picture" width="180" height="180" :alt="t('The secret as a picture')" />
      <p class="quiet">
        {{ t('Or type it in:') }} <code>{{ started.secret.match(/.{1,4}/g)?.join(' ') }}</code>
      </p>
      <FormField :label="t('Code of six digits')"
        ><ElInput v-model="code" inputmode="numeric" autocomplete="one-time-code" data-test="factor-code"
      /></FormField>
    </template>
    <p class="bar">
      <ElButton
        type="primary"
        native-type="submit"
        :disabled="busy || code.trim().length < 6"
        data-test="factor-confirm"
        >{{ t('Set it') }}</ElButton><slot />
    </p>
  </EntryForm>
</template>

<style scoped>
.factor {
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 340px;
}
code {
  font-size: 12px;
  overflow-wrap: anywhere;
}
</style>
