<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadExchange } from '#contract/order/exchange.ts'
import { ReadChoices } from '#contract/request/endpoints.ts'
import ItemPick from '#web/build/ItemPick.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import SupplierField from '#web/shared/SupplierField.vue'
import { useRead } from '#web/shared/useRead.ts'

/** Names of another installation, and what each means here: chosen, guessed because it is the same, or open. */
type Name = ResponseOf<typeof ReadExchange>['names'][number]
const props = defineProps<{ names: readonly Name[]; busy: boolean }>()
const emit = defineEmits<{ say: [name: Name, ours: string] }>()
const { data: choices } = useRead(ReadChoices)
const accounts = computed(() => {
  const open = (choices.value?.accounts ?? []).filter(one => one.open)
  const codes = open.map(one => [one.costCentre, one.naturalAccount, one.project ?? ''].join('|'))
  return [...new Set(codes)].map(code => ({ code, label: code.split('|').filter(Boolean).join(' / ') }))
})
const places = computed(() => [...new Set((choices.value?.addresses ?? []).map(one => one.label.split(',')[0]!))])
/** What has to be said first. */
const sorted = computed(() => [...props.names].sort((a, b) => Number(isOpen(b)) - Number(isOpen(a))))
/** A guess that is being overruled. */
const another = ref('')
const isOpen = (name: Name): boolean => name.needed && name.ours === ''
const key = (name: Name): string => `${name.kind} ${name.theirs}`
</script>

<template>
  <section class="section">
    <h2>What its names mean here</h2>
    <LineTable
      :rows="sorted"
      :columns="lineColumns({ kind: 'Kind', theirs: 'There', '#used': 'Used', ours: 'Here', '~how': '' })"
      label="Names"
      :key-of="key"
      :mark="name => `name-${name.kind}-${name.theirs}`"
    >
      <template #kind="{ row: name }">{{ laterLabel('foreign name', name.kind) }}</template>
      <template #theirs="{ row: name }"
        >{{ name.theirs || 'nothing said'
        }}<small>{{ [name.words, name.code].filter(Boolean).join(', ') }}</small></template
      >
      <template #used="{ row: name }">{{ name.used }}</template>
      <template #ours="{ row: name }"
        ><template v-if="name.ours && another !== key(name)">{{ name.oursLabel }}</template
        ><SupplierField
          v-else-if="name.kind === 'supplier'"
          model-value=""
          :mark="`map-supplier-${name.theirs}`"
          @update:model-value="emit('say', name, $event)" /><ItemPick
          v-else-if="name.kind === 'item'"
          model-value=""
          :label="`What ${name.theirs} is here`"
          :words="name.words"
          @update:model-value="emit('say', name, $event)" /><ElSelect
          v-else
          model-value=""
          filterable
          :disabled="busy"
          :aria-label="`What ${name.theirs} is here`"
          :placeholder="name.needed ? 'choose' : 'nothing'"
          :data-test="`map-${name.kind}-${name.theirs}`"
          @update:model-value="emit('say', name, $event)"
          ><template v-if="name.kind === 'account'"
            ><ElOption v-for="one in accounts" :key="one.code" :value="one.code" :label="one.label" /></template
          ><template v-else><ElOption v-for="one in places" :key="one" :value="one" :label="one" /></template></ElSelect
      ></template>
      <template #how="{ row: name }"
        ><template v-if="name.kept"
          >chosen <ElButton link :disabled="busy" @click="emit('say', name, '')">forget</ElButton></template
        ><template v-else-if="name.ours"
          >the same here <ElButton link :disabled="busy" @click="another = key(name)">another</ElButton></template
        ><span v-else-if="name.needed" class="tone-stop">has to be said</span
        ><template v-else>in words only</template></template
      >
    </LineTable>
  </section>
</template>
