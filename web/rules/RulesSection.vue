<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, defineAsyncComponent, ref, shallowRef, watch } from 'vue'
import {
  BeginRules,
  DropRules,
  ExportRules,
  ImportRules,
  ReadRules,
  ReadRuleSet,
  type RuleJson,
  type RuleSetHead,
  type RuleSetJson,
  SaveRules,
} from '#contract/rules/endpoints.ts'
import { api, pathOf } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import { type Names } from '#web/rules/ruleWords.ts'
import RuleTable from '#web/rules/RuleTable.vue'
import ImportDialog from '#web/shared/ImportDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day, since } from '#web/shared/words.ts'

/** The rules by which is decided: a version in force, those to come and those that were, and a draft that is tried before it holds. */
const RuleForm = defineAsyncComponent(() => import('#web/rules/RuleForm.vue'))
const TryDialog = defineAsyncComponent(() => import('#web/rules/TryDialog.vue'))
const PublishDialog = defineAsyncComponent(() => import('#web/rules/PublishDialog.vue'))
const session = useSession()
const { busy, reasons, run } = useAction()
const { data: known, reload } = useRead(ReadRules)
const chosen = ref('')
const set = shallowRef<RuleSetJson>()
const edited = shallowRef<RuleJson | 'new'>()
const doing = ref<'try' | 'publish' | 'import'>()
const said = ref('')
const may = computed(() => session.may('setup.write'))
const draft = computed(() => known.value?.sets.find(one => one.state === 'draft'))
const isDraft = computed(() => set.value?.state === 'draft')
const names = computed((): Names => ({
  people: new Map(known.value?.people.map(one => [one.id, one.name])),
  values: known.value?.values ?? {},
}))
watch(known, async all => {
  if (!all || all.sets.some(one => one.id === chosen.value)) return
  chosen.value = draft.value?.id ?? all.inForce ?? all.sets[0]?.id ?? ''
  await load()
})
async function load(): Promise<void> {
  set.value = chosen.value ? await api(ReadRuleSet, { params: { id: chosen.value } }) : undefined
}
async function reread(id: string): Promise<void> {
  chosen.value = id
  await reload()
  await load()
}
const begin = (): Promise<unknown> => run(async () => reread((await api(BeginRules)).id))
/** Keeps the draft with one rule changed, added or taken out. */
async function keep(rules: readonly RuleJson[]): Promise<void> {
  const { id, version } = set.value!
  const kept = await run(() => api(SaveRules, { params: { id }, body: { version, rules: [...rules] } }))
  if (!kept) return
  edited.value = undefined
  await reread(id)
}
function put(rule: RuleJson): Promise<void> {
  const { rules } = set.value!
  return keep(
    rules.some(one => one.id === rule.id) ? rules.map(one => (one.id === rule.id ? rule : one)) : [...rules, rule],
  )
}
async function drop(): Promise<void> {
  const { id, version } = set.value!
  if (await run(() => api(DropRules, { params: { id }, body: { version } }))) await reread(known.value?.inForce ?? '')
}
function published(waits: boolean): void {
  doing.value = undefined
  said.value = waits ? 'It holds when a second person has agreed.' : ''
  void reread(set.value!.id)
}
function standing(one: RuleSetHead): string {
  if (one.state === 'draft') return `Draft of version ${one.number}`
  if (one.id === known.value?.inForce) return `Version ${one.number}, in force since ${day(one.fromDay)}`
  return `Version ${one.number}, ${(one.fromDay ?? '') > session.today ? 'holds from' : 'held from'} ${day(one.fromDay)}`
}
</script>

<template>
  <section class="section" data-test="rules">
    <h1>Who decides</h1>
    <p class="quiet">
      All rules that apply ask, stage by stage, whatever their order. Nobody decides their own; a person asked twice is
      asked once, at the latest. What waits keeps its way; a version counts for what is submitted from its day on.
    </p>
    <p class="bar">
      <ElSelect
        v-if="known?.sets.length"
        v-model="chosen"
        aria-label="Version"
        class="version"
        data-test="rule-version"
        @change="load"
        ><ElOption v-for="one in known.sets" :key="one.id" :value="one.id" :label="standing(one)" /></ElSelect
      ><template v-if="may"
        ><ElButton v-if="!draft" type="primary" :disabled="busy" data-test="begin-rules" @click="begin"
          >Draft a change</ElButton
        ><template v-else-if="isDraft"
          ><ElButton type="primary" data-test="publish-rules" @click="doing = 'publish'">Put it in force</ElButton
          ><ElButton data-test="new-rule" @click="edited = 'new'">Add a rule</ElButton></template
        ></template
      ><ElButton v-if="set" data-test="try-rules" @click="doing = 'try'">Try it on the past</ElButton
      ><template v-if="set"
        ><a :href="`${pathOf(ExportRules, { id: set.id })}?as=csv`" download>CSV</a
        ><a :href="`${pathOf(ExportRules, { id: set.id })}?as=json`" download>JSON</a></template
      ><template v-if="may"
        ><ElButton link data-test="import-rules" @click="doing = 'import'">Take in a file</ElButton
        ><ElButton v-if="isDraft" link :disabled="busy" data-test="drop-rules" @click="drop"
          >drop the draft</ElButton
        ></template
      >
    </p>
    <p v-if="said" role="status">{{ said }}</p>
    <p v-if="set?.note" class="quiet">“{{ set.note }}” {{ set.by }}{{ set.at ? `, ${since(set.at)}` : '' }}</p>
    <ReasonList v-if="!edited" :reasons="reasons" />
    <p v-if="set && set.rules.length === 0" class="empty">No rule: whatever is submitted is approved at once.</p>
    <RuleTable
      v-else-if="set && known"
      :set="set"
      :names="names"
      :currency="known.currency"
      :open="may && isDraft"
      @edit="edited = $event"
      @out="keep(set.rules.filter(one => one.id !== $event.id))"
    />
    <RuleForm
      v-if="edited && known"
      :rule="edited === 'new' ? undefined : edited"
      :known="known"
      :names="names"
      :reasons="reasons"
      :busy="busy"
      @keep="put"
      @close="edited = undefined"
    />
    <TryDialog v-if="doing === 'try' && set" :set="set" @close="doing = undefined" />
    <PublishDialog v-if="doing === 'publish' && set" :set="set" @done="published" @close="doing = undefined" />
    <ImportDialog
      v-if="doing === 'import'"
      title="Take in rules"
      what="a file as CSV or JSON, such as one that was given out here; its rules become the draft, in place of what stands there"
      accept=".csv,.txt,.json,text/csv,application/json"
      :send="(fileId, dryRun) => api(ImportRules, { body: { fileId, dryRun } })"
      @close="((doing = undefined), reread(''))"
    />
  </section>
</template>

<style scoped>
.bar {
  flex-wrap: wrap;
  margin: 12px 0;
}
.version {
  width: 300px;
}
</style>
