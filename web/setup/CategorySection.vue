<script setup lang="ts">
import { ElButton, ElCheckbox, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, shallowRef } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { ListCategories, ReadSourceSettings, SaveCategory, SaveSourceSettings } from '#contract/source/onboarding.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import { KINDS, LINE_KINDS, type LineKind, type Proof } from '#core/request/kinds.ts'
import { RECORD_FIELDS } from '#core/source/questionnaire.ts'
import { proposedName } from '#core/source/naming.ts'
import { SIGNAL_KEYS, SIGNAL_RULES } from '#core/source/signals.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label } from '#web/shared/words.ts'

/** What is bought, who looks after it, what is asked of those who sell it; how names are written; what suppliers may change by themselves. */
const session = useSession()
const { busy, reasons, run, clear } = useAction()
const known = shallowRef<ResponseOf<typeof ListCategories>>()
const settings = reactive<ResponseOf<typeof ReadSourceSettings>>({
  naming: { capitals: 'words', legalForm: 'dotless', trailingDots: 'drop' },
  harmless: [],
})
const form = reactive<BodyOf<typeof SaveCategory> & { open: boolean }>({
  open: false,
  name: '',
  ownerId: null,
  needsFinance: true,
  certificates: [],
  thresholds: {},
  version: 0,
  parent: null,
  naturalAccount: null,
  proof: {},
  buyers: [],
})
const choices = shallowRef<ResponseOf<typeof ReadChoices>>()
const accounts = computed(() => [...new Set(choices.value?.accounts.map(one => one.naturalAccount))].sort())
async function load(): Promise<void> {
  known.value = await api(ListCategories)
  Object.assign(settings, await api(ReadSourceSettings))
}
onMounted(async () => {
  await load()
  choices.value = await api(ReadChoices)
})
function edit(one?: ResponseOf<typeof ListCategories>['categories'][number]): void {
  clear()
  Object.assign(
    form,
    JSON.parse(
      JSON.stringify({
        open: true,
        name: one?.name ?? '',
        ownerId: one?.ownerId ?? null,
        needsFinance: one?.needsFinance ?? true,
        certificates: one?.certificates ?? [],
        thresholds: one?.thresholds ?? {},
        version: one?.version ?? 0,
        parent: one?.parent ?? null,
        naturalAccount: one?.naturalAccount ?? null,
        proof: one?.proof ?? {},
        buyers: one?.buyers ?? [],
      }),
    ) as object,
  )
}
async function save(): Promise<void> {
  const { open: _open, ...body } = form
  const thresholds = Object.fromEntries(Object.entries(body.thresholds).filter(([, value]) => value !== ''))
  if (await run(() => api(SaveCategory, { body: { ...body, thresholds } }))) {
    form.open = false
    await load()
  }
}
const saveSettings = (): Promise<unknown> =>
  run(() => api(SaveSourceSettings, { body: { naming: settings.naming, harmless: settings.harmless } }))
const setProof = (kind: LineKind, proof: Proof | ''): void => {
  const next = { ...form.proof }
  if (proof) next[kind] = proof
  else delete next[kind]
  form.proof = next
}
const setThreshold = (key: (typeof SIGNAL_KEYS)[number], value: string): void => {
  form.thresholds = { ...form.thresholds, [key]: value }
}
</script>

<template>
  <section class="section">
    <h1>What is bought</h1>
    <p class="quiet">
      The owner of a category decides on new suppliers in it. A missing or lapsed certificate does to the next order
      what stands here.
    </p>
    <table class="lines">
      <thead>
        <tr>
          <th>Category</th>
          <th>Owner</th>
          <th>Certificates</th>
          <th>Own thresholds</th>
          <th class="num">Suppliers</th>
          <th />
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in known?.categories" :key="one.name">
          <td>{{ one.name }}</td>
          <td>{{ one.owner ?? 'nobody' }}<small v-if="one.needsFinance">and finance</small></td>
          <td>
            <template v-for="rule in one.certificates" :key="rule.kind"
              >{{ rule.kind }} <span class="quiet">{{ label('lapse', rule.lapse) }}</span><br
            /></template>
          </td>
          <td class="quiet">
            {{
              Object.entries(one.thresholds)
                .map(([key, value]) => `${label('signal', key)} ${value}`)
                .join(', ')
            }}
          </td>
          <td class="num">{{ one.suppliers }}</td>
          <td class="num">
            <ElButton link v-if="session.may('setup.write')" :data-test="`category-${one.name}`" @click="edit(one)">
              change
            </ElButton>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="session.may('setup.write')" class="bar"><ElButton @click="edit()">Add a category</ElButton></p>
  </section>
  <section class="section">
    <h2>Names and harmless changes</h2>
    <div class="form-grid">
      <label
        >Capital letters<ElSelect v-model="settings.naming.capitals" @change="saveSettings"
          ><ElOption value="asGiven" label="as given" /><ElOption
            value="words"
            label="at the start of words" /><ElOption value="upper" label="all" /></ElSelect></label
      ><label
        >Legal form<ElSelect v-model="settings.naming.legalForm" @change="saveSettings"
          ><ElOption value="keep" label="as given" /><ElOption value="dotless" label="without dots" /><ElOption
            value="drop"
            label="left out" /></ElSelect></label
      ><label
        >Dots at the end<ElSelect v-model="settings.naming.trailingDots" @change="saveSettings"
          ><ElOption value="drop" label="left out" /><ElOption value="keep" label="as given" /></ElSelect
      ></label>
      <label
        >Suppliers change at once<ElSelect
          v-model="settings.harmless"
          multiple
          filterable
          default-first-option
          collapse-tags
          @change="saveSettings"
          ><ElOption
            v-for="field in RECORD_FIELDS.filter(one => !['iban', 'bic', 'holder'].includes(one))"
            :key="field"
            :value="field"
            :label="label('record field', field)" /></ElSelect
      ></label>
    </div>
    <p class="quiet">
      “ALDIS MEMBRANE LTD.” is proposed as “{{ proposedName('ALDIS MEMBRANE LTD.', settings.naming) }}”, “Kroonvis B.V.”
      as “{{ proposedName('Kroonvis B.V.', settings.naming) }}”. Proposed, never imposed.
    </p>
    <ReasonList v-if="!form.open" :reasons="reasons" />
  </section>
  <ElDialog v-model="form.open" :title="form.version ? form.name : 'A new category'" width="640px"
    ><div class="form-grid">
      <label v-if="!form.version">Name<ElInput v-model="form.name" /></label
      ><label
        >Owner<ElSelect
          v-model="form.ownerId"
          clearable
          filterable
          default-first-option
          :value-on-clear="null"
          placeholder="nobody"
          ><ElOption v-for="one in known?.people" :key="one.id" :value="one.id" :label="one.name" /></ElSelect></label
      ><ElCheckbox v-model="form.needsFinance" label="finance decides too" /><label
        >Hangs under<ElSelect
          v-model="form.parent"
          clearable
          filterable
          default-first-option
          :value-on-clear="null"
          placeholder="nothing"
          data-test="category-parent"
          ><ElOption
            v-for="one in known?.categories.filter(other => other.name !== form.name)"
            :key="one.name"
            :value="one.name"
            :label="one.name" /></ElSelect></label
      ><label
        >Account that is proposed<ElSelect
          v-model="form.naturalAccount"
          clearable
          filterable
          default-first-option
          :value-on-clear="null"
          placeholder="none"
          ><ElOption v-for="one in accounts" :key="one" :value="one" :label="one" /></ElSelect></label
      ><label
        >Who buys it<ElSelect v-model="form.buyers" multiple filterable default-first-option collapse-tags
          ><ElOption v-for="one in choices?.buyers" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ></label>
    </div>
    <h3 class="sub">How it is proven, where otherwise than usual</h3>
    <div class="form-grid">
      <label v-for="kind in LINE_KINDS" :key="kind"
        >{{ label('kind', kind)
        }}<ElSelect
          :model-value="form.proof?.[kind] ?? ''"
          clearable
          :value-on-clear="''"
          :placeholder="label('proof', KINDS[kind].proofs[0]!)"
          @update:model-value="setProof(kind, $event)"
          ><ElOption v-for="one in KINDS[kind].proofs" :key="one" :value="one" :label="label('proof', one)" /></ElSelect
      ></label>
    </div>
    <h3 class="sub">Certificates</h3>
    <p v-for="(rule, index) in form.certificates" :key="index" class="bar">
      <ElInput v-model="rule.kind" aria-label="Certificate" style="width: 260px" /><ElSelect
        v-model="rule.lapse"
        style="width: 170px"
        aria-label="When it is missing"
        ><ElOption
          v-for="level in ['note', 'check', 'stop']"
          :key="level"
          :value="level"
          :label="label('lapse', level)" /></ElSelect
      ><ElButton link @click="form.certificates.splice(index, 1)">take out</ElButton>
    </p>
    <ElButton link @click="form.certificates.push({ kind: '', lapse: 'check' })">Add one</ElButton>
    <h3 class="sub">Thresholds of signals</h3>
    <div class="form-grid">
      <label v-for="key in SIGNAL_KEYS" :key="key"
        >{{ label('signal', key) }}, {{ SIGNAL_RULES[key].direction === 'atLeast' ? 'at least' : 'at most'
        }}<ElInput
          :model-value="form.thresholds[key] ?? ''"
          :placeholder="`${SIGNAL_RULES[key].threshold}, as usual`"
          @update:model-value="setThreshold(key, $event)"
      /></label>
    </div>
    <ReasonList :reasons="reasons" /><template #footer
      ><ElButton type="primary" :disabled="busy || !form.name" data-test="save-category" @click="save">Save</ElButton
      ><ElButton @click="form.open = false">Leave it</ElButton></template
    ></ElDialog
  >
</template>

<style scoped>
.bar {
  margin-top: 10px;
}
.sub {
  margin: 16px 0 6px;
}
small {
  display: block;
  color: var(--ink-quiet);
}
</style>
