<script setup lang="ts">
import '#web/theme/later.scss'
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadChoices } from '#contract/request/endpoints.ts'
import type { ReadEvent } from '#contract/source/events.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import FormField from '#web/shared/FormField.vue'
import NumberField from '#web/shared/NumberField.vue'

/** What is seldom said about a line that is asked: where to, by which term, who pays, its texts, the most that may be bid. */
type Body = ResponseOf<typeof ReadEvent>['body']
const props = defineProps<{
  sheet: ResponseOf<typeof ReadEvent>
  choices: ResponseOf<typeof ReadChoices> | undefined
}>()
const line = defineModel<Body['lines'][number]>({ required: true })
const lot = defineModel<Body['lots'][number]>('lot', { required: true })
const emit = defineEmits<{ close: [] }>()
const texts = computed(() => props.sheet.settings.texts.filter(one => one.place === 'line' && one.writtenBy === 'us'))
const account = computed(() => props.sheet.lineFacts.find(one => one.id === line.value.id)?.account ?? null)
/** The limit of this line lives with the rules of its lot. */
const ceiling = computed({
  get: () => lot.value.lineCeilings[line.value.id] ?? '',
  set: most => (lot.value.lineCeilings[line.value.id] = most),
})
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="line.description || 'A line'"
    width="560"
    append-to-body
    @closed="emit('close')"
  >
    <div class="fields">
      <FormField label="Delivered to"
        ><ElSelect
          :model-value="line.addressId ?? ''"
          filterable
          clearable
          :value-on-clear="''"
          aria-label="Delivered to"
          data-test="line-address"
          @update:model-value="line.addressId = $event || null"
          ><ElOption v-for="one in choices?.addresses" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ></FormField>
      <FormField label="Category"
        ><ElSelect v-model="line.category" filterable clearable :value-on-clear="''" aria-label="Category of the line"
          ><ElOption v-for="one in choices?.categories" :key="one" :value="one" :label="one" /></ElSelect
      ></FormField>
      <FormField label="Incoterm" help="What it costs to bring it here is reckoned by it."
        ><ElSelect
          :model-value="line.incoterm ?? ''"
          clearable
          :value-on-clear="''"
          aria-label="Incoterm"
          data-test="line-incoterm"
          @update:model-value="line.incoterm = $event || null"
          ><ElOption v-for="term in INCOTERMS" :key="term" :value="term" :label="term" /></ElSelect
      ></FormField>
      <FormField label="Its place"
        ><ElInput v-model="line.incotermPlace" maxlength="200" aria-label="Place of the Incoterm"
      /></FormField>
      <FormField
        label="Account that pays"
        :help="account && !line.accountId ? `As the request says: ${account}.` : 'May stay open until the award.'"
        ><ElSelect
          :model-value="line.accountId ?? ''"
          filterable
          clearable
          :value-on-clear="''"
          aria-label="Account that pays"
          data-test="line-account"
          @update:model-value="line.accountId = $event || null"
          ><ElOption v-for="one in choices?.accounts" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
      ></FormField>
      <FormField
        v-if="sheet.settings.format === 'auction'"
        :label="`No bid above, ${sheet.body.currency}`"
        help="For the whole line."
        ><NumberField v-model="ceiling" label="No bid for this line above" width="120px"
      /></FormField>
    </div>
    <FormField
      v-for="text in texts"
      :key="text.key"
      :label="text.seenBy === 'us' ? `${text.name} (only we see it)` : text.name"
      ><ElInput
        :model-value="line.texts[text.key] ?? ''"
        type="textarea"
        :rows="2"
        :placeholder="text.words.en ?? ''"
        :aria-label="text.name"
        :data-test="`line-text-${text.key}`"
        @update:model-value="line.texts[text.key] = $event"
    /></FormField>
    <ElButton type="primary" data-test="line-more-done" @click="emit('close')">Done</ElButton>
  </ElDialog>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 20px;
}
</style>
