<script setup lang="ts">
import { ElButton, ElCheckbox, ElOption, ElSelect } from 'element-plus'
import { VueDraggable } from 'vue-draggable-plus'
import { type figuresOf, type Line, type Proposal, type savedOf } from '#web/order/proposals.ts'
import { amountText, day, quantityText, unit } from '#web/shared/words.ts'

/** One proposed order: its lines are dragged, or moved by key, to another order of the same supplier. */
defineProps<{
  proposal: Proposal
  number: number
  figures: ReturnType<typeof figuresOf>
  saved: ReturnType<typeof savedOf>
  others: readonly { readonly id: string; readonly label: string }[]
  taken: boolean
}>()
const lines = defineModel<Line[]>('lines', { required: true })
const emit = defineEmits<{ take: [taken: boolean]; move: [line: Line, to: string]; together: [] }>()
</script>

<template>
  <section class="proposal" :data-test="`proposal-${number}`">
    <h3>
      <ElCheckbox :model-value="taken" :aria-label="`Draft order ${number}`" @change="emit('take', Boolean($event))" />
      {{ figures.supplier }}
      <span class="amount"
        >{{ amountText(figures.total) }} <span class="unit">{{ figures.currency }}</span></span
      >
    </h3>
    <p class="quiet">
      <template v-if="figures.agreement">calls off {{ figures.agreement }}; </template
      ><template v-if="figures.places.length">to {{ figures.places.join(', ') }}; </template
      ><template v-if="figures.from"
        >needed {{ day(figures.from)
        }}<template v-if="figures.to !== figures.from"> to {{ day(figures.to) }}</template></template
      ><template v-else>no day is said</template>
    </p>
    <p v-if="figures.missing" class="tone-attention">
      {{ amountText(figures.missing) }} {{ figures.currency }} short of what the supplier takes at least.
    </p>
    <p v-if="figures.freight" class="quiet">Freight {{ amountText(figures.freight) }} {{ figures.currency }}.</p>
    <p v-if="others.length" :class="saved ? 'tone-settled' : 'quiet'">
      <template v-if="saved"
        >Together with the other orders of this supplier<template v-if="saved.freight">
          {{ amountText(saved.freight) }} {{ figures.currency }} of freight are saved</template
        ><template v-if="saved.freight && saved.reaches"> and</template
        ><template v-if="saved.reaches"> what it takes at least is reached</template>.</template
      ><template v-else>Putting it together with the other orders of this supplier saves nothing.</template>
      <ElButton link :data-test="`together-${number}`" @click="emit('together')">Put them together</ElButton>
    </p>
    <VueDraggable v-model="lines" tag="ul" :group="proposal.key" handle=".what" :animation="120" class="lines-in">
      <li v-for="line in lines" :key="line.id" :data-test="`proposed-${line.requisition}`">
        <span class="what" title="Drag it to another order of this supplier"
          >{{ line.description }}
          <small
            >{{ quantityText(line.quantity) }} {{ unit(line.unit) }}, by {{ day(line.needBy) }},
            <RouterLink :to="line.requisitionPath">{{ line.requisition }}</RouterLink></small
          ></span
        ><span class="amount">{{ amountText(line.amount) }}</span
        ><ElSelect
          model-value=""
          size="small"
          placeholder="move"
          :aria-label="`Move ${line.description}`"
          :data-test="`move-${line.requisition}`"
          @update:model-value="emit('move', line, $event)"
          ><ElOption v-for="one in others" :key="one.id" :value="one.id" :label="one.label" /><ElOption
            value="own"
            label="an order of its own"
        /></ElSelect>
      </li>
    </VueDraggable>
  </section>
</template>

<style scoped>
.proposal {
  border: 1px solid var(--rule);
  padding: 12px 16px;
  background: var(--sheet);
}
h3 {
  display: flex;
  gap: 8px;
  align-items: center;
}
.amount {
  margin-left: auto;
  white-space: nowrap;
}
.proposal p {
  margin: 2px 0;
}
.lines-in {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
  min-height: 18px;
}
.lines-in li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 86px;
  gap: 10px;
  align-items: center;
  padding: 4px 0;
  border-top: 1px solid var(--rule-light);
}
.what {
  cursor: grab;
}
.what small {
  display: block;
  color: var(--ink-quiet);
}
</style>
