<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { ReadCandidates } from '#contract/decide/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { CheckRequisition } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import FormField from '#web/shared/FormField.vue'

/** Who of several decides, where a rule leaves that to whoever asks; and who decides, too, because whoever asks wants it. */
const props = defineProps<{ id: string; checked: ResponseOf<typeof CheckRequisition>; busy: boolean }>()
const emit = defineEmits<{ want: [wanted: { chosen: Record<string, string>; added: string[] }] }>()
const adding = ref(false)
const candidates = shallowRef<ResponseOf<typeof ReadCandidates>['candidates']>([])
const asked = computed(() => new Set(props.checked.steps.flatMap(step => step.approvers.map(one => one.id))))
const others = computed(() => candidates.value.filter(one => !asked.value.has(one.id)))
const chosen = computed(() =>
  Object.fromEntries(props.checked.choices.flatMap(one => (one.chosen === null ? [] : [[one.ruleId, one.chosen]]))),
)
const added = computed(() => props.checked.added.map(one => one.id))

async function open(): Promise<void> {
  adding.value = true
  candidates.value = (await api(ReadCandidates, { params: { id: props.id } })).candidates
}
function add(personId: string): void {
  adding.value = false
  emit('want', { chosen: chosen.value, added: [...added.value, personId] })
}
</script>

<template>
  <section v-if="checked.choices.length || checked.mayAdd" class="deciders" data-test="deciders">
    <FormField v-for="one in checked.choices" :key="one.ruleId" :label="`${one.rule}: who decides`"
      ><ElSelect
        :model-value="one.chosen ?? ''"
        filterable
        default-first-option
        placeholder="choose"
        :disabled="busy"
        data-test="choose-decider"
        @update:model-value="emit('want', { chosen: { ...chosen, [one.ruleId]: String($event) }, added })"
        ><ElOption v-for="person in one.people" :key="person.id" :value="person.id" :label="person.name" /></ElSelect
    ></FormField>
    <template v-if="checked.mayAdd">
      <p v-for="person in checked.added" :key="person.id" class="bar">
        {{ person.name }} decides, too<ElButton
          link
          :disabled="busy"
          @click="emit('want', { chosen, added: added.filter(id => id !== person.id) })"
          >not after all</ElButton
        >
      </p>
      <ElSelect
        v-if="adding"
        :model-value="''"
        filterable
        default-first-option
        placeholder="who else"
        aria-label="Who else decides"
        data-test="add-decider"
        @update:model-value="add(String($event))"
        ><ElOption v-for="one in others" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
      ><ElButton v-else link type="primary" :disabled="busy" data-test="somebody-else" @click="open"
        >let somebody else decide, too</ElButton
      >
    </template>
  </section>
</template>

<style scoped>
.deciders {
  margin-top: 4px;
}
</style>
