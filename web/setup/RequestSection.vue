<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { ReadRequestSettings, type RequestSettings, SaveRequestSettings } from '#contract/request/forms.ts'
import { ROUTES } from '#core/request/routes.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What a steward sets for requests: Incoterms, rules of routes, words that mean the same, reminders. */
const session = useSession()
const { busy, reasons, run } = useAction()
const settings = ref<RequestSettings>()
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
const kept = ref(false)
onMounted(async () => {
  settings.value = await api(ReadRequestSettings)
  choices.value = await api(ReadChoices)
})
async function save(): Promise<void> {
  kept.value = false
  const body = settings.value!
  if (
    await run(() =>
      api(SaveRequestSettings, { body: { ...body, sameWords: body.sameWords.filter(words => words.length > 1) } }),
    )
  )
    kept.value = true
}
const addRule = (): void =>
  void settings.value!.routeRules.push({
    name: 'A new rule',
    categories: [],
    from: '0',
    upTo: null,
    allowed: [...ROUTES],
  })
const setWords = (index: number, text: string): void => {
  settings.value!.sameWords[index] = text
    .toLowerCase()
    .split(/[\s,;=]+/)
    .filter(Boolean)
    .slice(0, 12)
}
</script>

<template>
  <section v-if="settings" class="section" data-test="request-settings">
    <h1>Requests</h1>
    <EntryForm :reasons="reasons" :busy="busy" @submit="save">
      <fieldset :disabled="!session.may('setup.write')">
        <h3>Incoterms 2020</h3>
        <div class="form-grid wide">
          <FormField label="Used here (none: all)"
            ><ElSelect
              v-model="settings.terms.allowed"
              multiple
              filterable
              default-first-option
              data-test="terms-allowed"
              ><ElOption v-for="term in INCOTERMS" :key="term" :value="term" :label="term" /></ElSelect></FormField
          ><FormField label="Preferred"
            ><ElSelect v-model="settings.terms.preferred" multiple filterable default-first-option
              ><ElOption v-for="term in INCOTERMS" :key="term" :value="term" :label="term" /></ElSelect
          ></FormField>
        </div>
        <div v-if="settings.terms.allowed.length" class="because">
          <FormField
            v-for="term in INCOTERMS.filter(one => !settings!.terms.allowed.includes(one))"
            :key="term"
            :label="`Why not ${term}`"
            ><ElInput
              :model-value="settings.terms.because[term] ?? ''"
              size="small"
              @update:model-value="settings.terms.because[term] = $event"
          /></FormField>
        </div>
        <h3>Which routes are open</h3>
        <LineTable
          v-if="settings.routeRules.length"
          :rows="settings.routeRules"
          :columns="
            lineColumns({
              rule: 'Rule',
              categories: 'Categories (none: all)',
              from: 'From',
              below: 'Below',
              allows: 'Allows',
              acts: '',
            })
          "
          label="Rules for routes"
          ><template #rule="{ row: rule }"><ElInput v-model="rule.name" aria-label="Name of the rule" /></template>
          <template #categories="{ row: rule }"
            ><ElSelect
              v-model="rule.categories"
              multiple
              filterable
              default-first-option
              collapse-tags
              placeholder="all"
              aria-label="Categories"
              ><ElOption v-for="one in choices?.categories" :key="one" :value="one" :label="one" /></ElSelect
          ></template>
          <template #from="{ row: rule }"
            ><ElInput v-model="rule.from" aria-label="From" style="width: 90px"
          /></template>
          <template #below="{ row: rule }"
            ><ElInput
              :model-value="rule.upTo ?? ''"
              aria-label="Below"
              style="width: 90px"
              @update:model-value="rule.upTo = $event || null"
          /></template>
          <template #allows="{ row: rule }"
            ><ElSelect v-model="rule.allowed" multiple collapse-tags aria-label="Allows"
              ><ElOption v-for="route in ROUTES" :key="route" :value="route" :label="label('route', route)" /></ElSelect
          ></template>
          <template #acts="{ index }"
            ><ElButton link @click="settings.routeRules.splice(index, 1)">take out</ElButton></template
          ></LineTable
        >
        <p><ElButton link data-test="add-route-rule" @click="addRule">Add a rule</ElButton></p>
        <h3>Words that mean the same in the search</h3>
        <p v-for="(words, index) in settings.sameWords" :key="index" class="bar">
          <ElInput
            :model-value="words.join(', ')"
            aria-label="Words"
            style="width: 420px"
            @change="setWords(index, String($event))"
          /><ElButton link @click="settings.sameWords.splice(index, 1)">take out</ElButton>
        </p>
        <p><ElButton link @click="settings.sameWords.push([])">Add words</ElButton></p>
        <h3>Reminders</h3>
        <p class="bar">
          Whoever holds a request is reminded after
          <ElSelect v-model="settings.remindAfterDays" aria-label="Reminded after" style="width: 120px"
            ><ElOption
              v-for="days in [0, 1, 2, 3, 5, 10]"
              :key="days"
              :value="days"
              :label="days === 0 ? 'never' : `${days} working days`"
          /></ElSelect>
        </p>
      </fieldset>

      <template v-if="session.may('setup.write')" #acts>
        <ElButton type="primary" :disabled="busy" data-test="save-request-settings" native-type="submit">Save</ElButton
        ><span v-if="kept" class="tone-settled" role="status">Kept.</span>
      </template></EntryForm
    >
  </section>
</template>

<style scoped>
.wide {
  grid-template-columns: 1fr 1fr;
}
.because {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 6px 12px;
  margin-top: 8px;
}
.bar {
  margin: 6px 0;
}
</style>
