<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import type { ListPage } from '#contract/fields.ts'
import type { defineList } from '#contract/lists/list.ts'
import { type Condition, type Conditions, writeConditions } from '#core/lists/conditions.ts'
import { api } from '#web/api.ts'
import ConditionForm from '#web/lists/ConditionForm.vue'
import MenuPopover from '#web/shared/MenuPopover.vue'
import { askedName, conditionWords } from '#web/lists/conditionWords.ts'

/** What a list shows, as a sentence of conditions that can be taken out of it and added to it. */
const props = defineProps<{ list: ReturnType<typeof defineList>; page: ListPage }>()
const emit = defineEmits<{ change: [where: string | undefined] }>()
const adding = ref(false)
const options = shallowRef<ReadonlyMap<string, readonly { value: string; label: string }[]>>(new Map())
const conditions = computed(() => props.page.conditions as Conditions)

/** Values to choose from are asked for when somebody wants to choose, or when a sentence names one. */
async function loadOptions(): Promise<void> {
  if (options.value.size > 0) return
  const { filters } = await api(props.list.filters).catch(() => ({ filters: [] }))
  options.value = new Map(filters.map(one => [one.key, one.options]))
}
watch(
  () => conditions.value.flat().some(one => props.page.asks.find(ask => ask.key === one.column)?.choices),
  named => void (named && loadOptions()),
  { immediate: true },
)

const write = (next: Conditions): void => emit('change', writeConditions(next) || undefined)
function drop(group: number, index: number): void {
  write(conditions.value.map((one, at) => (at === group ? one.filter((_, other) => other !== index) : one)))
}
function add(condition: Condition, how: 'and' | 'or'): void {
  adding.value = false
  const before = conditions.value
  write(how === 'and' ? [...before, [condition]] : [...before.slice(0, -1), [...(before.at(-1) ?? []), condition]])
}
</script>

<template>
  <div class="sentence" :class="{ said: conditions.length || page.lost.length }" data-test="filter-sentence">
    <template v-for="(group, at) in conditions" :key="at"
      ><span v-if="at > 0" class="word">and</span
      ><template v-for="(one, index) in group" :key="index"
        ><span v-if="index > 0" class="word">or</span
        ><ElButton
          size="small"
          plain
          class="one"
          :title="`Take out: ${conditionWords(one, options.get(one.column))}`"
          data-test="drop-condition"
          @click="drop(at, index)"
          >{{ conditionWords(one, options.get(one.column)) }} <span class="word" aria-hidden="true">×</span></ElButton
        ></template
      ></template
    ><MenuPopover v-model:open="adding" :width="320" placement="bottom-start" @show="loadOptions"
      ><template #button
        ><ElButton link data-test="add-condition">{{ conditions.length ? 'and …' : 'Filter' }}</ElButton></template
      ><ConditionForm
        v-if="adding"
        :asks="page.asks"
        :options="options"
        :beside="conditions.length > 0"
        @ask="add" /></MenuPopover
    ><ElButton v-if="conditions.length > 1" link @click="write([])">without any</ElButton>
    <span v-if="page.lost.length" class="lost" role="status" data-test="filter-lost"
      >◆ left out, because it cannot be asked here: {{ page.lost.map(askedName).join(', ') }}</span
    >
  </div>
</template>

<style scoped>
.sentence {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 6px;
  font-size: 12px;
}
.said {
  flex-basis: 100%;
}
.word {
  color: var(--ink-quiet);
}
.lost {
  color: var(--brass);
}
.one {
  margin: 0;
  height: auto;
  min-height: 24px;
  white-space: normal;
  font-weight: 400;
  border-color: var(--rule);
  color: var(--ink);
}
.one .word {
  margin-left: 6px;
}
</style>
