<script setup lang="ts">
import { ElButton, ElCheckbox, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed, reactive } from 'vue'
import { LOCALES, SavePersonal } from '#contract/account/endpoints.ts'
import { ANY_TIME, type MailWish } from '#core/people/mailTiming.ts'
import { api } from '#web/api.ts'
import { ALL_STAGES } from '#web/frame/stages.ts'
import { usePreferences } from '#web/people/preferences.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'
import { t } from '#web/shared/language.ts'

/** How dates, figures and lists look to this person, and where they begin. */
const session = useSession()
const preferences = usePreferences()
const { busy, reasons, run } = useAction()
type Locale = (typeof LOCALES)[number]
const form = reactive({ locale: session.person!.locale as Locale, timeZone: session.person!.timeZone })
const zones = Intl.supportedValuesOf('timeZone')
const density = computed({
  get: () => preferences.get('density', '') ?? 'calm',
  set: value => preferences.set('density', '', value),
})
type Start = 'desk' | 'source' | 'request' | 'decide' | 'order' | 'receive' | 'bill' | 'pay' | 'insight'
const start = computed({
  get: () => preferences.get('startPage', '') ?? 'desk',
  set: value => preferences.set('startPage', '', value),
})
const mails = computed({
  get: (): MailWish => preferences.get('mails', '') ?? ANY_TIME,
  set: value => preferences.set('mails', '', value),
})
const quiet = computed({
  get: () => mails.value.quietFrom !== '',
  set: on => {
    mails.value = { ...mails.value, quietFrom: on ? '19:00' : '', quietTo: on ? '07:00' : '' }
  },
})
const EDGES = { quietFrom: 'from', quietTo: 'to' } as const
const CLOCK = Array.from({ length: 48 }, (_, half) => `${String(half >> 1).padStart(2, '0')}:${half % 2 ? '30' : '00'}`)
const starts = computed(() => ['desk', ...ALL_STAGES.map(stage => stage.key).filter(key => key !== 'setup')] as Start[])
const names = new Intl.DisplayNames(document.documentElement.lang, { type: 'language' })
const sample = computed(() => {
  const date = new Intl.DateTimeFormat(form.locale, { dateStyle: 'medium', timeZone: form.timeZone }).format(new Date())
  const mark = new Intl.NumberFormat(form.locale).formatToParts(1.5).find(part => part.type === 'decimal')?.value
  return `${date}; 18\u00a0420${mark}50`
})
async function save(): Promise<void> {
  if (await run(() => api(SavePersonal, { body: { ...form } }))) location.reload()
}
</script>

<template>
  <EntryForm :reasons="reasons" :busy="busy" columns @submit="save">
    <FormField
      :label="session.realm === 'supplier' ? t('Language, dates and figures') : t('Dates and figures')"
      place="locale"
      :help="sample"
      ><ElSelect v-model="form.locale" filterable default-first-option data-test="locale"
        ><ElOption v-for="one in LOCALES" :key="one" :value="one" :label="names.of(one)" /></ElSelect
    ></FormField>
    <FormField :label="t('Time zone')" place="timeZone"
      ><ElSelect v-model="form.timeZone" filterable default-first-option data-test="zone"
        ><ElOption v-for="one in zones" :key="one" :value="one" :label="one" /></ElSelect
    ></FormField>
    <template v-if="session.realm === 'team'">
      <FormField label="After signing in"
        ><ElSelect v-model="start" data-test="start-page"
          ><ElOption
            v-for="one in starts"
            :key="one"
            :value="one"
            :label="one === 'desk' ? 'Desk' : label('stage', one)" /></ElSelect
      ></FormField>
      <FormField label="Rows of wide lists"
        ><ElRadioGroup v-model="density"
          ><ElRadio value="calm">calm</ElRadio><ElRadio value="dense">dense</ElRadio></ElRadioGroup
        ></FormField
      >
    </template>
    <template v-if="session.realm === 'team'">
      <FormField label="Mails about the work" help="What concerns your account comes at once in any case"
        ><ElRadioGroup
          :model-value="mails.when"
          data-test="mails"
          @update:model-value="mails = { ...mails, when: $event as MailWish['when'] }"
          ><ElRadio value="atOnce">at once</ElRadio><ElRadio value="daily">together, in the morning</ElRadio
          ><ElRadio value="never">none</ElRadio></ElRadioGroup
        ></FormField
      >
      <FormField label="Mails about decisions" help="With everything, you can decide out of the mail itself"
        ><ElRadioGroup
          :model-value="mails.decisions ?? 'full'"
          data-test="decision-mails"
          @update:model-value="mails = { ...mails, decisions: $event as 'full' | 'short' }"
          ><ElRadio value="full">with everything that decides</ElRadio
          ><ElRadio value="short">only a link</ElRadio></ElRadioGroup
        ></FormField
      >
      <FormField label="Quiet hours"
        ><p class="bar">
          <ElCheckbox v-model="quiet" label="no mail" data-test="quiet" />
          <template v-if="quiet"
            ><template v-for="(word, edge) in EDGES" :key="edge"
              >{{ word }}
              <ElSelect
                :model-value="mails[edge]"
                :aria-label="`No mail ${word}`"
                class="clock"
                @update:model-value="mails = { ...mails, [edge]: $event as string }"
                ><ElOption v-for="one in CLOCK" :key="one" :value="one" /></ElSelect></template
          ></template></p
      ></FormField>
    </template>
    <template #acts
      ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-personal">{{
        t('Keep it')
      }}</ElButton></template
    >
  </EntryForm>
</template>

<style scoped>
.clock {
  width: 90px;
}
</style>
