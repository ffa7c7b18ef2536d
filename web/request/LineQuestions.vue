<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { LineFacts } from '#contract/request/lines.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import { day, priceText } from '#web/shared/words.ts'

/** What a line asks of whoever writes it: an offer that has changed meanwhile, carriage that a term leaves to us. */
defineProps<{ facts: LineFacts; index: number; place: string }>()
const emit = defineEmits<{ change: [line: Partial<EditedLine>]; freight: []; freightRequest: [] }>()
function own(how: 'freight' | 'freightRequest'): void {
  emit('change', { freight: 'own' })
  if (how === 'freight') emit('freight')
  else emit('freightRequest')
}
</script>

<template>
  <p v-if="facts.offerNow" class="reasons check">
    The offer {{ facts.offerNow.endedOn ? `ended on ${day(facts.offerNow.endedOn)}` : 'has changed' }}: this line keeps
    {{ priceText(facts.offerNow.kept)
    }}<template v-if="facts.offerNow.now"
      >, it now says {{ priceText(facts.offerNow.now) }}.
      <ElButton link :data-test="`refresh-${index}`" @click="emit('change', { refresh: true })"
        >Take the price of today</ElButton
      ></template
    >.
  </p>
  <p v-if="facts.freightWanted" class="reasons check" :data-place="place">
    {{ facts.term.incoterm }} {{ facts.term.place }} leaves carriage to us.
    <ElButton link :data-test="`freight-own-${index}`" @click="own('freight')">Add a line for it</ElButton>,
    <ElButton link :data-test="`freight-request-${index}`" @click="own('freightRequest')"
      >make a request of its own</ElButton
    >, <ElButton link @click="emit('change', { freight: 'included' })">it is in the price</ElButton>, or
    <ElButton link :data-test="`freight-none-${index}`" @click="emit('change', { freight: 'notWanted' })"
      >we collect it ourselves</ElButton
    >.
  </p>
</template>
