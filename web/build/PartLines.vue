<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import type { Costing } from '#web/build/useCosting.ts'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'
import { quantityText, unit } from '#web/shared/words.ts'

/** Where a part stands in the list, and how many one of its assembly takes. */
type Line = Costing['lines'][number]
defineProps<{ lines: readonly { readonly at: number; readonly line: Line }[]; mayChange: boolean }>()
const emit = defineEmits<{ quantity: [position: number, quantity: string, unit: string] }>()
const open = ref(-1)
const quantity = ref('')
const code = ref('')
function begin(at: number, line: Line): void {
  open.value = at
  quantity.value = line.quantity ?? ''
  code.value = line.unit
}
function keep(at: number): void {
  open.value = -1
  if (quantity.value !== '') emit('quantity', at, quantity.value, code.value)
}
</script>

<template>
  <ul class="lines">
    <li v-for="{ at, line } in lines.slice(0, 12)" :key="at">
      <template v-if="open === at"
        ><span class="bar"
          ><NumberField v-model="quantity" label="Quantity" width="100px" /><UnitField v-model="code" /><ElButton
            data-test="keep-quantity"
            @click="keep(at)"
            >Keep</ElButton
          ><ElButton link @click="open = -1">leave it</ElButton></span
        ></template
      ><template v-else
        ><b v-if="line.quantity !== null">{{ quantityText(line.quantity) }} {{ unit(line.unit) }}</b
        ><b v-else class="tone-attention">no quantity</b>
        <span class="quiet"
          >row {{ line.row }}:
          {{
            [line.number, line.description, line.maker, line.makerNumber, line.places, line.remarks]
              .filter(Boolean)
              .join(', ')
          }}</span
        >
        <ElButton v-if="mayChange" link :data-test="`line-quantity-${line.row}`" @click="begin(at, line)"
          >change</ElButton
        ></template
      >
    </li>
    <li v-if="lines.length > 12" class="quiet">and {{ lines.length - 12 }} more places</li>
  </ul>
</template>

<style scoped>
.lines {
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
}
</style>
