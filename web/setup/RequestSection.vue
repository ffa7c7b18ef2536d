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
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'

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
    <fieldset :disabled="!session.may('setup.write')">
      <h3>Incoterms 2020</h3>
      <div class="form-grid wide">
        <FormField label="Used here (none: all)"
          ><ElSelect v-model="settings.terms.allowed" multiple filterable default-first-option data-test="terms-allowed"
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
      <table v-if="settings.routeRules.length" class="lines">
        <thead>
          <tr>
            <th>Rule</th>
            <th>Categories (none: all)</th>
            <th class="num">From</th>
            <th class="num">Below</th>
            <th>Allows</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr v-for="(rule, index) in settings.routeRules" :key="index">
            <td><ElInput v-model="rule.name" aria-label="Name of the rule" /></td>
            <td>
              <ElSelect
                v-model="rule.categories"
                multiple
                filterable
                default-first-option
                collapse-tags
                placeholder="all"
                aria-label="Categories"
                ><ElOption v-for="one in choices?.categories" :key="one" :value="one" :label="one"
              /></ElSelect>
            </td>
            <td><ElInput v-model="rule.from" aria-label="From" style="width: 90px" /></td>
            <td>
              <ElInput
                :model-value="rule.upTo ?? ''"
                aria-label="Below"
                style="width: 90px"
                @update:model-value="rule.upTo = $event || null"
              />
            </td>
            <td>
              <ElSelect v-model="rule.allowed" multiple collapse-tags aria-label="Allows"
                ><ElOption v-for="route in ROUTES" :key="route" :value="route" :label="label('route', route)"
              /></ElSelect>
            </td>
            <td><ElButton link @click="settings.routeRules.splice(index, 1)">take out</ElButton></td>
          </tr>
        </tbody>
      </table>
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
    <ReasonList :reasons="reasons" />
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton type="primary" :disabled="busy" data-test="save-request-settings" @click="save">Save</ElButton
      ><span v-if="kept" class="tone-settled" role="status">Kept.</span>
    </p>
  </section>
</template>

<style scoped>
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
h3 {
  margin: 16px 0 6px;
}
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
