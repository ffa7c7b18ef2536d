<script setup lang="ts">
import '#web/theme/later.scss'
import { ElButton, ElCheckbox, ElInput, ElInputNumber, ElOption, ElRadio, ElRadioGroup, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import type { ReadAsked } from '#contract/source/asked.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { t } from '#web/shared/language.ts'
import NumberField from '#web/shared/NumberField.vue'
import { day, quantityText, unit } from '#web/shared/words.ts'
import AnswerAlternatives from '#web/source/AnswerAlternatives.vue'
import AnswerTiers from '#web/source/AnswerTiers.vue'

/** The answer to a quote request, lot by lot: the same form for a supplier and for one of us who types it in on its behalf. */
type Asked = ResponseOf<typeof ReadAsked>
const props = defineProps<{ asked: Asked; reasons: readonly ReasonJson[]; busy: boolean; mayAct: boolean }>()
const emit = defineEmits<{ submit: [] }>()
const answer = defineModel<Asked['answer']>({ required: true })
const priced = computed(() => props.asked.settings.pricing !== 'none')
const byLine = computed(() => props.asked.settings.components.filter(one => one.basis !== 'perLot'))
const byLot = computed(() => props.asked.settings.components.filter(one => one.basis === 'perLot'))
const lineNumbers = computed(() => Object.fromEntries(props.asked.lines.map(line => [line.id, line.position])))
const lotOf = (id: string) => props.asked.lines.filter(line => line.lotId === id && !line.gone)
const own = (lineId: string) => answer.value.lines.find(one => one.lineId === lineId)
const basis = (one: { basis: string }): string =>
  ({ perUnit: t('for each unit'), perLine: t('for the line'), perLot: t('for all of it') })[one.basis] ?? ''
/** An empty field stands for nothing said, so that a draft can be kept at any time. */
function lump(lotId: string, key: string, value: string): void {
  answer.value.lump[lotId] = { ...answer.value.lump[lotId], [key]: value }
}
const written = (place: 'head' | 'line') => props.asked.texts.filter(one => !one.ours && one.place === place)
</script>

<template>
  <EntryForm :reasons="reasons" :busy="busy" :line-numbers="lineNumbers" @submit="emit('submit')">
    <fieldset :disabled="!mayAct" class="bare">
      <section v-for="lot in asked.lots" :key="lot.id">
        <h2 v-if="asked.lots.length > 1">{{ lot.title }}</h2>
        <div
          v-for="line in lotOf(lot.id)"
          :key="line.id"
          class="line"
          :class="{ off: own(line.id)?.declined }"
          :data-test="`answer-line-${line.position}`"
        >
          <p class="what">
            <b>{{ line.position }}. {{ line.description }}</b>
            <span class="quiet"
              >{{ quantityText(line.quantity) }} {{ unit(line.unit)
              }}{{ line.needBy ? `, ${t('needed by {day}', { day: day(line.needBy) })}` : ''
              }}{{ line.place ? `, ${line.place}` : '' }}{{ line.incoterm ? `, ${line.incoterm}` : '' }}</span
            >
            <span v-for="(text, name) in line.texts" :key="name" class="quiet">{{
              text ? `${name}: ${text}` : ''
            }}</span>
          </p>
          <template v-if="own(line.id)">
            <div v-if="!own(line.id)!.declined" class="fields">
              <template v-if="priced"
                ><FormField
                  :label="t('Price, {currency}', { currency: asked.currency })"
                  :place="`lines.${line.id}.price`"
                  ><NumberField
                    v-model="own(line.id)!.price"
                    :label="`${t('Price')} ${line.position}`"
                    width="120px" /></FormField
                ><FormField :label="t('Price is for')" :place="`lines.${line.id}.priceBase`"
                  ><NumberField
                    v-model="own(line.id)!.priceBase"
                    :label="`${t('Price is for')} ${line.position}`"
                    width="80px" /></FormField
              ></template>
              <FormField
                v-for="one in byLine"
                :key="one.key"
                :label="`${one.name}, ${basis(one)}`"
                :place="`lines.${line.id}.components.${one.key}`"
                ><NumberField
                  :model-value="own(line.id)!.components[one.key] ?? ''"
                  :label="`${one.name} ${line.position}`"
                  width="110px"
                  @update:model-value="own(line.id)!.components[one.key] = $event" /></FormField
              ><FormField
                v-if="asked.settings.partQuantity"
                :label="t('Only so many')"
                :place="`lines.${line.id}.quantity`"
                ><NumberField
                  v-model="own(line.id)!.quantity"
                  :label="`${t('Only so many')} ${line.position}`"
                  width="90px" /></FormField
              ><FormField :label="t('In multiples of')" :place="`lines.${line.id}.multiple`"
                ><NumberField
                  :model-value="own(line.id)!.multiple ?? ''"
                  :label="`${t('In multiples of')} ${line.position}`"
                  width="80px"
                  @update:model-value="own(line.id)!.multiple = $event" /></FormField
              ><FormField :label="t('Days to deliver')"
                ><ElInputNumber
                  v-model="own(line.id)!.leadDays"
                  :min="0"
                  :max="3650"
                  :controls="false"
                  :value-on-clear="null"
                  :aria-label="`${t('Days to deliver')} ${line.position}`" /></FormField
              ><FormField :label="t('A word about it')"
                ><ElInput v-model="own(line.id)!.note" :aria-label="`${t('A word about it')} ${line.position}`"
              /></FormField>
              <FormField v-for="text in written('line')" :key="text.key" :label="text.name"
                ><ElInput v-model="own(line.id)!.texts[text.key]" :aria-label="`${text.name} ${line.position}`"
              /></FormField>
            </div>
            <AnswerTiers
              v-if="priced && !own(line.id)!.declined"
              v-model="own(line.id)!.tiers"
              :line-id="line.id"
              :position="line.position"
              :price="own(line.id)!.price"
            />
            <ElCheckbox
              v-model="own(line.id)!.declined"
              :label="t('We do not offer this')"
              :data-test="`decline-${line.position}`"
            />
          </template>
        </div>
        <div v-if="byLot.length" class="fields lump">
          <FormField
            v-for="one in byLot"
            :key="one.key"
            :label="`${one.name}, ${basis(one)}, ${asked.currency}`"
            :place="`lump.${lot.id}.${one.key}`"
            ><NumberField
              :model-value="answer.lump[lot.id]?.[one.key] ?? ''"
              :label="one.name"
              width="120px"
              @update:model-value="lump(lot.id, one.key, $event)"
          /></FormField>
        </div>
      </section>
      <AnswerAlternatives
        v-if="asked.settings.alternatives || asked.settings.supplierLines"
        v-model="answer"
        :asked="asked"
      />
      <section v-for="section in asked.sections" :key="section.title">
        <h2>{{ section.title }}</h2>
        <FormField
          v-for="question in section.questions"
          :key="question.key"
          :label="question.label + (question.required ? '' : ` (${t('if you like')})`)"
          :place="`questions.${question.key}`"
          ><ElRadioGroup v-if="question.kind === 'yesNo'" v-model="answer.questions[question.key]"
            ><ElRadio value="yes">{{ t('yes') }}</ElRadio
            ><ElRadio value="no">{{ t('no') }}</ElRadio></ElRadioGroup
          ><ElSelect
            v-else-if="question.kind === 'choice'"
            v-model="answer.questions[question.key]"
            :aria-label="question.label"
            ><ElOption v-for="one in question.choices" :key="one" :value="one" :label="one" /></ElSelect
          ><NumberField
            v-else-if="question.kind === 'number'"
            :model-value="answer.questions[question.key] ?? ''"
            :label="question.label"
            @update:model-value="answer.questions[question.key] = $event" /><ElInput
            v-else
            v-model="answer.questions[question.key]"
            type="textarea"
            :rows="3"
            :aria-label="question.label"
        /></FormField>
      </section>
      <section>
        <h2>{{ t('Beside the lines') }}</h2>
        <div class="fields">
          <FormField :label="t('Paid so many days after delivery')"
            ><ElInputNumber
              v-model="answer.paymentDays"
              :min="0"
              :max="365"
              :controls="false"
              :value-on-clear="null"
              :aria-label="t('Paid so many days after delivery')" /></FormField
          ><FormField :label="t('Prices are valid until')"
            ><DayField
              :model-value="answer.validUntil || null"
              :label="t('Prices are valid until')"
              :empty="t('open')"
              @update:model-value="answer.validUntil = $event ?? ''"
          /></FormField>
        </div>
        <FormField v-for="text in written('head')" :key="text.key" :label="text.name"
          ><ElInput v-model="answer.texts[text.key]" type="textarea" :rows="2" :aria-label="text.name"
        /></FormField>
        <FormField :label="t('A word to the buyer')"
          ><ElInput v-model="answer.note" type="textarea" :rows="2" data-test="answer-note"
        /></FormField>
        <slot name="files" />
      </section>
    </fieldset>
    <p class="bar acts">
      <ElButton type="primary" native-type="submit" :disabled="busy || !mayAct" data-test="submit-answer">{{
        asked.submittedAt ? t('Hand in the changed answer') : t('Hand in')
      }}</ElButton>
      <slot name="acts" />
    </p>
  </EntryForm>
</template>

<style scoped>
.bare {
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
}
.line {
  padding: 10px 0;
  border-bottom: 1px solid var(--rule-light);
}
.off .what {
  color: var(--ink-quiet);
}
.what span {
  display: block;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 16px;
  margin-top: 6px;
}
.lump {
  margin-bottom: 6px;
}
h2 {
  margin: 18px 0 4px;
}
.acts {
  margin-top: 14px;
}
</style>
