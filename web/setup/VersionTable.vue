<script setup lang="ts" generic="Version extends Kept">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { useSession } from '#web/people/session.ts'
import type { Kept } from '#web/setup/questions.ts'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import { label, since } from '#web/shared/words.ts'

/** What is kept in versions: each with all of them, the latest first and open to change. */
const props = defineProps<{ all: readonly Version[]; what: string; about: string; mark: string }>()
const emit = defineEmits<{ edit: [one: Version] }>()
defineSlots<{ about: (props: { one: Version }) => unknown }>()
const session = useSession()
const rows = computed(() =>
  [...new Set(props.all.map(one => one.code))].flatMap(code =>
    props.all.filter(one => one.code === code).map((one, index) => ({ one, latest: index === 0 })),
  ),
)
const COLUMNS = lineColumns({
  name: props.what,
  about: props.about,
  '#number': 'Version',
  '#questions': 'Questions',
  '~changed': 'Changed',
  '#acts': '',
})
</script>

<template>
  <LineTable
    :rows="rows"
    :columns="COLUMNS"
    :label="what"
    :key-of="({ one }) => one.id"
    :off="({ one }) => one.state === 'retired'"
  >
    <template #name="{ row: { one, latest } }">{{ latest ? one.name : '' }}</template>
    <template #about="{ row: { one } }"><slot name="about" :one="one" /></template>
    <template #number="{ row: { one } }">{{ one.number }}, {{ label('state', one.state) }}</template>
    <template #questions="{ row: { one } }">{{
      one.sections.reduce((sum, section) => sum + section.questions.length, 0)
    }}</template>
    <template #changed="{ row: { one } }"
      >{{ one.changedBy }}, {{ since(one.changedAt) }}<small v-if="one.used">used {{ one.used }} times</small></template
    >
    <template #acts="{ row: { one, latest } }"
      ><ElButton
        v-if="session.may('setup.write') && latest"
        link
        :data-test="`${mark}-${one.code}`"
        @click="emit('edit', one)"
        >change</ElButton
      ></template
    >
  </LineTable>
</template>
