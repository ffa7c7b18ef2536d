<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, onMounted, provide, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ProposeAccounts, type ReadChoices } from '#contract/request/endpoints.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import { api } from '#web/api.ts'
import { wholeLine } from '#web/request/lineAmount.ts'
import { type LineProps, useLine } from '#web/request/lineFields.ts'
import LineMore from '#web/request/LineMore.vue'
import LineQuestions from '#web/request/LineQuestions.vue'
import LineWhat from '#web/request/LineWhat.vue'
import LineWhere from '#web/request/LineWhere.vue'
import SplitGrid from '#web/request/SplitGrid.vue'
import type { EditedLine } from '#web/request/useDraft.ts'
import { FAULTS } from '#web/shared/formFaults.ts'
import FormField from '#web/shared/FormField.vue'
import { amountText, label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** All fields of one line: only those that its kind has, with what is known beside them. */
const props = defineProps<
  LineProps & {
    choices: ResponseOf<typeof ReadChoices> | undefined
    facts: LineFacts | undefined
    base: string
  }
>()
const emit = defineEmits<{
  change: [line: Partial<EditedLine>]
  remove: []
  propose: []
  freight: []
  freightRequest: []
}>()
const { place, set, hints } = useLine(props, emit)
const more = ref(false)
const proposals = shallowRef<ResponseOf<typeof ProposeAccounts>['lines'][number]['proposals']>([])
/** The draft lists every reason above its lines; beside a field stands what stops. */
provide(FAULTS, {
  at: where => props.reasons.filter(reason => reason.place === where && reason.level === 'stop'),
  add: () => undefined,
  drop: () => undefined,
})
const whole = computed(() => wholeLine(props.line))

async function loadProposals(): Promise<void> {
  const { itemId, category, needBy, splits } = props.line
  const project = props.choices?.accounts.find(one => one.id === splits[0]?.accountId)?.project ?? null
  const { lines } = await api(ProposeAccounts, { body: { lines: [{ itemId, category, needBy, project }] } })
  proposals.value = lines[0]?.proposals ?? []
}
onMounted(() => void loadProposals())
watch(
  () => [props.line.itemId, props.line.category, props.line.needBy?.slice(0, 7)],
  () => void loadProposals(),
)
</script>

<template>
  <div class="line-form" :data-test="`line-form-${index}`">
    <div class="fields">
      <LineWhat :line="line" :index="index" :reasons="reasons" :choices="choices" :facts="facts" @change="set" />
      <LineWhere
        :line="line"
        :index="index"
        :reasons="reasons"
        :choices="choices"
        :facts="facts"
        @change="set"
        @propose="emit('propose')"
      />
    </div>
    <LineQuestions
      v-if="facts"
      :facts="facts"
      :index="index"
      :place="place('freight')"
      @change="set"
      @freight="emit('freight')"
      @freight-request="emit('freightRequest')"
    />
    <FormField class="pays" label="Who pays" :place="place('splits')" :help="hints('splits')"
      ><SplitGrid
        :splits="line.splits as { accountId: string; share: string }[]"
        :by="line.splitBy"
        :accounts="choices?.accounts ?? []"
        :proposals="proposals"
        :whole="whole"
        :index="index"
        @update:splits="set({ splits: $event })"
        @update:by="set({ splitBy: $event })"
    /></FormField>
    <p class="summary">
      <ElButton link :aria-expanded="more" :data-test="`more-${index}`" @click="more = !more">{{
        more ? 'less' : 'more'
      }}</ElButton>
      <span class="quiet"
        >{{ line.routes.map(route => label('route', route)).join(' or ') || 'nothing may happen next'
        }}<template v-if="facts"
          >; {{ label('proof', facts.proof.proof)
          }}<template v-if="facts.proof.from !== 'kind'"> ({{ laterLabel('proof from', facts.proof.from) }})</template
          ><template v-if="facts.term.incoterm"
            >; {{ facts.term.incoterm }} {{ facts.term.place }} ({{ label('term from', facts.term.from) }})</template
          ></template
        ></span
      >
      <span v-if="facts && facts.currency !== base" class="rate"
        >{{ amountText(facts.amount) }} {{ facts.currency }} = {{ amountText(facts.baseAmount) }} {{ base
        }}<span class="quiet"> at {{ facts.rate ?? 'no rate' }}</span></span
      >
      <ElButton link class="out" :data-test="`remove-${index}`" @click="emit('remove')">take the line out</ElButton>
    </p>
    <div v-if="more" class="fields extra">
      <LineMore :line="line" :index="index" :reasons="reasons" :choices="choices" :facts="facts" @change="set" />
    </div>
  </div>
</template>

<style scoped>
.line-form {
  padding: 6px 0 14px 30px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 8px 12px;
  margin: 6px 0;
  align-items: start;
}
.line-form :deep(.form-field) {
  margin-bottom: 0;
}
.fields > :deep(.two) {
  grid-column: span 2;
}
.fields > :deep(.wide) {
  grid-column: span 3;
}
.fields > :deep(.four) {
  grid-column: span 4;
}
.fields > :deep(.six) {
  grid-column: 1 / -1;
}
.fields :deep(.el-date-editor),
.fields :deep(.el-select) {
  width: 100%;
}
.pays {
  margin-top: 8px;
}
.summary {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
  font-size: 12px;
  margin-top: 8px;
}
.out {
  margin-left: auto;
}
.extra {
  border-top: 1px solid var(--rule-light);
  padding-top: 8px;
}
@media (max-width: 700px) {
  .line-form {
    padding-left: 0;
    min-width: 0;
  }
  .fields {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .fields > :deep(.two),
  .fields > :deep(.wide),
  .fields > :deep(.four) {
    grid-column: span 2;
  }
}
</style>
