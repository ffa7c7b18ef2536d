<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElRadio, ElRadioGroup, ElSelect, ElTimeSelect } from 'element-plus'
import { onMounted, ref } from 'vue'
import { type DecideSettingsJson, ReadDecideSettings, SaveDecideSettings } from '#contract/consent/settings.ts'
import { EDIT_EFFECTS, EDIT_FIELDS } from '#core/consent/settings.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import NumberField from '#web/shared/NumberField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What a steward sets for decisions: their time, mails, who may add or change, and what a change leads to. */
const session = useSession()
const { busy, reasons, run } = useAction()
const settings = ref<DecideSettingsJson>()
const kept = ref(false)
const fields = EDIT_FIELDS.map(key => ({ key }))
onMounted(async () => {
  settings.value = await api(ReadDecideSettings)
})
async function save(): Promise<void> {
  kept.value = false
  const done = await run(() => api(SaveDecideSettings, { body: settings.value! }))
  if (!done) return
  settings.value = done
  kept.value = true
}
</script>

<template>
  <section v-if="settings" class="section" data-test="decide-settings">
    <h1>How decisions are taken</h1>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <fieldset :disabled="!session.may('setup.write')">
        <h3>Time</h3>
        <p class="quiet">
          The time that a rule gives is counted in these hours, on the clocks of whoever decides and on working days.
        </p>
        <div class="form-grid three">
          <FormField label="Working hours from" place="hoursFrom"
            ><ElTimeSelect v-model="settings.hoursFrom" start="05:00" step="00:30" end="12:00" :clearable="false"
          /></FormField>
          <FormField label="until" place="hoursTo"
            ><ElTimeSelect v-model="settings.hoursTo" start="12:00" step="00:30" end="22:00" :clearable="false"
          /></FormField>
          <FormField label="Reminded after" place="remindPercent"
            ><ElSelect v-model="settings.remindPercent"
              ><ElOption
                v-for="part in [0, 25, 50, 75, 90]"
                :key="part"
                :value="part"
                :label="part === 0 ? 'not at all' : `${part} % of the time`" /></ElSelect
          ></FormField>
        </div>
        <h3>Who may do what</h3>
        <div class="form-grid three">
          <FormField label="A mail decides for so many days" place="wayDays"
            ><ElSelect v-model="settings.wayDays"
              ><ElOption
                v-for="days in [1, 3, 7, 14, 30, 60]"
                :key="days"
                :value="days"
                :label="String(days)" /></ElSelect
          ></FormField>
          <FormField :label="`Skipped by two people from, ${session.base}`" place="secondFrom"
            ><NumberField v-model="settings.secondFrom" label="Skipped by two people from" data-test="second-from"
          /></FormField>
        </div>
        <p>
          <ElCheckbox v-model="settings.addByHand" label="Whoever asks or decides may add somebody who decides, too" />
        </p>
        <h3>When something is changed</h3>
        <p>
          <ElCheckbox
            v-model="settings.editing.byDeciders"
            data-test="by-deciders"
            label="Whoever decides may change lines, or refuse some"
          />
        </p>
        <LineTable
          :rows="fields"
          :columns="lineColumns({ what: 'What is changed', effect: 'What follows' })"
          label="What follows from a change"
          :key-of="row => row.key"
          ><template #what="{ row }">{{ laterLabel('edit field', row.key) }}</template
          ><template #effect="{ row }"
            ><ElSelect
              v-model="settings.editing.fields[row.key]"
              :aria-label="`What follows from: ${laterLabel('edit field', row.key)}`"
              :data-test="`effect-${row.key}`"
              style="width: 300px"
              ><ElOption
                v-for="effect in EDIT_EFFECTS.filter(one => row.key !== 'words' || one !== 'again')"
                :key="effect"
                :value="effect"
                :label="laterLabel('edit effect', effect)" /></ElSelect></template
        ></LineTable>
        <div class="form-grid three">
          <FormField :label="`An amount may grow by, ${session.base}`" place="editing.tolerance"
            ><NumberField v-model="settings.editing.tolerance" label="An amount may grow by" data-test="tolerance"
          /></FormField>
          <FormField label="and by, %" place="editing.tolerancePercent" help="The smaller of both counts."
            ><ElInput v-model="settings.editing.tolerancePercent" inputmode="decimal" data-test="tolerance-percent"
          /></FormField>
        </div>
        <p><ElCheckbox v-model="settings.editing.decreases" label="Less than was approved asks again, too" /></p>
        <FormField label="Who is asked again"
          ><ElRadioGroup v-model="settings.editing.again"
            ><ElRadio value="new">only those whose decision no longer stands</ElRadio
            ><ElRadio value="all">everybody, from the beginning</ElRadio></ElRadioGroup
          ></FormField
        >
      </fieldset>
      <template v-if="session.may('setup.write')" #acts
        ><ElButton type="primary" native-type="submit" :disabled="busy" data-test="save-decide-settings">Save</ElButton
        ><span v-if="kept" class="tone-settled" role="status">Kept.</span></template
      >
    </EntryForm>
  </section>
</template>

<style scoped>
.three {
  grid-template-columns: repeat(3, minmax(0, 1fr));
}
</style>
