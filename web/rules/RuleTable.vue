<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { RuleJson, RuleSetJson } from '#contract/rules/endpoints.ts'
import { type Names, whenSentence, whoSentence } from '#web/rules/ruleWords.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { words } from '#web/shared/words.ts'

/** The rules of a version as sentences, stage by stage, each with what stands against it. */
const props = defineProps<{ set: RuleSetJson; names: Names; currency: string; open: boolean }>()
const emit = defineEmits<{ edit: [rule: RuleJson]; out: [rule: RuleJson] }>()
const rows = computed(() => [...props.set.rules].sort((a, b) => a.stage - b.stage))
const faultsOf = (rule: RuleJson) => props.set.faults.filter(fault => fault.place?.startsWith(rule.id))
const COLUMNS = lineColumns({ '#stage': 'Stage', rule: 'Rule', asks: 'Asks', '-acts': 'Change' })
</script>

<template>
  <LineTable :rows="rows" :columns="COLUMNS" label="Rules" :key-of="one => one.id" :mark="one => `rule-${one.name}`"
    ><template #stage="{ row: one }">{{ one.stage }}</template>
    <template #rule="{ row: one }"
      ><b>{{ one.name }}</b
      ><small>{{ whenSentence(one, currency, names) }}</small
      ><small v-if="one.note">“{{ one.note }}”</small
      ><small v-for="fault in faultsOf(one)" :key="fault.code" class="tone-stop">▲ {{ words(fault) }}</small></template
    >
    <template #asks="{ row: one }">{{ whoSentence(one, names) }}</template>
    <template #acts="{ row: one }"
      ><template v-if="open"
        ><ElButton link :data-test="`edit-${one.name}`" @click="emit('edit', one)">change</ElButton
        ><ElButton link @click="emit('out', one)">take out</ElButton></template
      ></template
    ></LineTable
  >
</template>
