<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ListClauses, SaveClause } from '#contract/order/clauses.ts'
import { ListCategories } from '#contract/source/onboarding.ts'
import { CLAUSE_SCOPES, type ClauseScope } from '#core/order/clauses.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, since } from '#web/shared/words.ts'

/** What stands on orders by category and country of the supplier: clauses in versions; what was issued keeps the version it got. */
type Clause = ResponseOf<typeof ListClauses>['clauses'][number]
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const { data, reload } = useRead(ListClauses)
const { data: known } = useRead(ListCategories)
const open = ref(false)
const form = reactive({
  id: null as string | null,
  seen: 0,
  name: '',
  from: session.today as string | null,
  ended: false,
  scope: 'all' as ClauseScope,
  categories: [] as string[],
  countries: [] as string[],
  text: {} as Record<string, string>,
})
const SCOPES: Readonly<Record<ClauseScope, string>> = { all: 'goods and work', goods: 'goods', work: 'work' }
const LANGUAGES = new Intl.DisplayNames(['en'], { type: 'language' })
const rows = computed(() =>
  (data.value?.clauses ?? []).flatMap(clause => clause.versions.map((one, at) => ({ clause, one, latest: at === 0 }))),
)
const languages = computed(() => data.value?.languages ?? [])

function edit(clause?: Clause): void {
  clear()
  const latest = clause?.versions[0]
  Object.assign(form, {
    id: clause?.id ?? null,
    seen: latest?.version ?? 0,
    name: latest?.name ?? '',
    from: latest && latest.from > session.today ? latest.from : session.today,
    ended: false,
    scope: latest?.scope ?? 'all',
    categories: [...(latest?.categories ?? [])],
    countries: [...(latest?.countries ?? [])],
    text: { ...Object.fromEntries(languages.value.map(one => [one, ''])), ...latest?.text },
  })
  open.value = true
}
async function save(ended: boolean): Promise<void> {
  const { from, ...rest } = form
  const countries = form.countries.map(one => one.trim().toUpperCase())
  const body = { ...rest, countries, from: from ?? session.today, ended }
  if (!(await run(() => api(SaveClause, { body })))) return
  open.value = false
  await reload()
}
const applies = ({ one }: (typeof rows.value)[number]): string =>
  [SCOPES[one.scope], ...one.categories, ...one.countries].join(', ')
</script>

<template>
  <section class="section" data-test="clauses">
    <h1>Clauses</h1>
    <p class="quiet">
      They stand on orders, in the supplier’s language, where category and country fit. A change is the next version; an
      issued order keeps the one it got.
    </p>
    <LineTable
      :rows="rows"
      :columns="
        lineColumns({
          name: 'Clause',
          '#version': 'Version',
          from: 'From',
          for: 'For',
          '#orders': 'Orders',
          '~by': 'Written',
          '#acts': '',
        })
      "
      label="Clauses"
      :key-of="({ clause, one }) => `${clause.id} ${one.version}`"
      :off="({ one, latest }) => !latest || one.ended"
    >
      <template #name="{ row: { one, latest } }">{{ latest ? one.name : '' }}</template>
      <template #version="{ row: { one } }">{{ one.version }}</template>
      <template #from="{ row: { one } }">{{ one.ended ? `ends ${day(one.from)}` : day(one.from) }}</template>
      <template #for="{ row }">{{ applies(row) }}</template>
      <template #orders="{ row: { one } }">{{ one.orders || '' }}</template>
      <template #by="{ row: { one } }">{{ one.by }}, {{ since(one.at) }}</template>
      <template #acts="{ row: { clause, one, latest } }"
        ><ElButton
          v-if="latest && session.may('setup.write')"
          link
          :data-test="`clause-${one.name}`"
          @click="edit(clause)"
          >change</ElButton
        ></template
      >
    </LineTable>
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-clause" @click="edit()">Write a clause</ElButton>
    </p>
    <ElDialog v-model="open" :title="form.id ? `${form.name}, version ${form.seen + 1}` : 'A new clause'" width="640px"
      ><EntryForm :reasons="reasons" :busy="busy" columns @submit="save(false)">
        <FormField label="Name" place="name"><ElInput v-model="form.name" data-test="clause-name" /></FormField
        ><FormField label="From this day on" place="from"><DayField v-model="form.from" label="From" /></FormField
        ><FormField label="Where orders buy"
          ><ElSelect v-model="form.scope"
            ><ElOption
              v-for="one in CLAUSE_SCOPES"
              :key="one"
              :value="one"
              :label="SCOPES[one]" /></ElSelect></FormField
        ><FormField label="In these categories (none: all)" place="categories"
          ><ElSelect v-model="form.categories" multiple filterable default-first-option data-test="clause-categories"
            ><ElOption
              v-for="one in known?.categories"
              :key="one.name"
              :value="one.name"
              :label="one.name" /></ElSelect></FormField
        ><FormField label="From suppliers in these countries (none: all)" place="countries"
          ><ElSelect
            v-model="form.countries"
            multiple
            filterable
            allow-create
            default-first-option
            placeholder="NL" /></FormField
        ><FormField
          v-for="language in languages"
          :key="language"
          :label="`Text, ${LANGUAGES.of(language) ?? language}`"
          :place="language === languages[0] ? 'text' : ''"
          whole
          ><ElInput
            v-model="form.text[language]"
            type="textarea"
            :rows="4"
            maxlength="4000"
            :data-test="`clause-text-${language}`"
        /></FormField>
        <template #acts
          ><ElButton type="primary" :disabled="busy || !form.name" data-test="save-clause" native-type="submit"
            >Put it in force</ElButton
          ><ElButton v-if="form.id" :disabled="busy" data-test="end-clause" @click="save(true)"
            >End it from that day on</ElButton
          ><ElButton @click="open = false">Leave it</ElButton></template
        ></EntryForm
      ></ElDialog
    >
  </section>
</template>
