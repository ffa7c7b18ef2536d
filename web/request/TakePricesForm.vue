<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import type { PriceDifferences } from '#contract/request/keeping.ts'
import { useSession } from '#web/people/session.ts'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'

/** Lets differences count that were looked at: from which day, and why. */
const props = defineProps<{ seen: PriceDifferences; busy: boolean }>()
const emit = defineEmits<{ take: [asked: { from: string; reason: string; endMissing: boolean }] }>()
const session = useSession()
const from = ref<string | null>(session.today)
const reason = ref('')
const endMissing = ref(false)
const count = (kind: string): number => props.seen.counts[kind] ?? 0
const changed = computed(() => count('dearer') + count('cheaper') + count('tiers'))
const ready = computed(
  () =>
    props.seen.faultCount === 0 &&
    reason.value.trim().length >= 3 &&
    from.value !== null &&
    changed.value + (endMissing.value ? count('missing') : 0) > 0,
)
const take = (): void => {
  if (ready.value) emit('take', { from: from.value!, reason: reason.value, endMissing: endMissing.value })
}
</script>

<template>
  <EntryForm class="take" :reasons="[]" :busy="busy" columns @submit="take">
    <FormField label="They hold from"><DayField v-model="from" label="They hold from" mark="hold-from" /></FormField>
    <FormField label="Why" help="At least three letters; it stays with the prices."
      ><ElInput v-model="reason" maxlength="400" data-test="prices-reason"
    /></FormField>
    <p v-if="count('missing')" class="bar">
      <ElCheckbox
        v-model="endMissing"
        data-test="end-missing"
        :label="`end the ${count('missing')} offers that the list lacks`"
      />
    </p>
    <template #acts
      ><ElButton type="primary" native-type="submit" :disabled="!ready || busy" data-primary data-test="take-prices">{{
        changed === 1 ? 'Take 1 new price' : `Take ${changed} new prices`
      }}</ElButton
      ><span v-if="seen.faultCount" class="tone-stop"
        >{{ seen.faultCount }} faults: all rows are taken, or none.</span
      ></template
    >
  </EntryForm>
</template>

<style scoped>
.take {
  border-top: 1px solid var(--rule);
  padding-top: 14px;
  margin: 14px 0;
}
</style>
