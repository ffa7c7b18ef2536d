<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadAsked } from '#contract/source/asked.ts'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import UnitField from '#web/shared/UnitField.vue'

/** Something else in place of a line, and lines that nobody asked about. */
type Asked = ResponseOf<typeof ReadAsked>
const props = defineProps<{ asked: Asked }>()
const answer = defineModel<Asked['answer']>({ required: true })
const addAlternative = (): void =>
  void answer.value.alternatives.push({
    id: crypto.randomUUID(),
    lineId: props.asked.lines[0]!.id,
    description: '',
    price: '',
    priceBase: '1',
    leadDays: null,
    note: '',
  })
const addOwn = (): void =>
  void answer.value.ownLines.push({ id: crypto.randomUUID(), description: '', quantity: '1', unit: 'C62', price: '' })
const drop = (id: string): void => {
  answer.value.alternatives = answer.value.alternatives.filter(one => one.id !== id)
  answer.value.ownLines = answer.value.ownLines.filter(one => one.id !== id)
}
</script>

<template>
  <section>
    <div v-for="one in answer.alternatives" :key="one.id" class="other" data-test="alternative">
      <FormField :label="t('In place of')"
        ><ElSelect v-model="one.lineId" :aria-label="t('In place of')"
          ><ElOption
            v-for="line in asked.lines"
            :key="line.id"
            :value="line.id"
            :label="`${line.position}. ${line.description}`" /></ElSelect></FormField
      ><FormField :label="t('What you offer')" :place="`alternatives.${one.id}.description`"
        ><ElInput v-model="one.description" /></FormField
      ><FormField :label="t('Price, {currency}', { currency: asked.currency })" :place="`alternatives.${one.id}.price`"
        ><NumberField v-model="one.price" :label="t('Price of the alternative')" width="120px" /></FormField
      ><ElButton link @click="drop(one.id)">{{ t('take out') }}</ElButton>
    </div>
    <div v-for="one in answer.ownLines" :key="one.id" class="other">
      <FormField :label="t('What you add')" :place="`ownLines.${one.id}.description`"
        ><ElInput v-model="one.description" /></FormField
      ><FormField :label="t('How many')" :place="`ownLines.${one.id}.quantity`"
        ><NumberField v-model="one.quantity" :label="t('How many')" width="80px" /></FormField
      ><FormField :label="t('Unit')"><UnitField v-model="one.unit" :label="t('Unit')" /></FormField
      ><FormField :label="t('Price, {currency}', { currency: asked.currency })" :place="`ownLines.${one.id}.price`"
        ><NumberField v-model="one.price" :label="t('Price of what you add')" width="120px" /></FormField
      ><ElButton link @click="drop(one.id)">{{ t('take out') }}</ElButton>
    </div>
    <p class="bar">
      <ElButton v-if="asked.settings.alternatives" link data-test="add-alternative" @click="addAlternative">{{
        t('Offer an alternative')
      }}</ElButton><ElButton v-if="asked.settings.supplierLines" link @click="addOwn">{{
        t('Add a line of your own')
      }}</ElButton>
    </p>
  </section>
</template>

<style scoped>
.other {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-end;
  gap: 2px 14px;
  padding: 8px 0;
  border-bottom: 1px solid var(--rule-light);
}
</style>
