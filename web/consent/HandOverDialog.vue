<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, ref, shallowRef } from 'vue'
import { HandOver, ReadHandOver } from '#contract/decide/endpoints.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import FormField from '#web/shared/FormField.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { words } from '#web/shared/words.ts'

/** When somebody leaves: what waits for them, where they are named, and who takes over. */
const props = defineProps<{ person: { id: string; name: string } }>()
const emit = defineEmits<{ close: [] }>()
const { data, reload } = useRead(ReadHandOver, { params: { id: props.person.id } })
const { busy, reasons, run } = useAction()
const toPersonId = ref('')
const reason = ref('')
const done = shallowRef<ResponseOf<typeof HandOver>>()
const nothing = computed(
  () => data.value && [data.value.decisions, data.value.below, data.value.standsInFor].every(one => one.length === 0),
)
async function go(): Promise<void> {
  const body = { toPersonId: toPersonId.value, reason: reason.value }
  done.value = await run(() => api(HandOver, { params: { id: props.person.id }, body }))
  if (done.value) await reload()
}
</script>

<template>
  <ElDialog :model-value="true" :title="`${person.name} leaves`" width="600px" @close="emit('close')">
    <template v-if="data">
      <dl>
        <dt>Decisions that wait</dt>
        <dd>
          <template v-if="data.decisions.length"
            ><RouterLink v-for="one in data.decisions" :key="one.id" :to="one.path"
              >{{ one.number }} {{ one.title }}{{ one.now ? '' : ' (later)' }}</RouterLink
            ></template
          ><template v-else>none</template>
        </dd>
        <dt>Rules that name them</dt>
        <dd>
          <template v-if="data.rules.length"
            ><RouterLink v-for="one in data.rules" :key="`${one.version} ${one.name}`" to="/setup/rules"
              >{{ one.name }}, version {{ one.version }}{{ one.draft ? ', draft' : '' }}</RouterLink
            ></template
          ><template v-else>none</template>
        </dd>
        <dt>Cost centres that they hold</dt>
        <dd>
          <RouterLink v-if="data.centres.length" to="/setup/centres">{{ data.centres.join(', ') }}</RouterLink><template
            v-else
            >none</template
          >
        </dd>
        <dt>Next in the chain of</dt>
        <dd>{{ data.below.join(', ') || 'nobody' }}</dd>
        <dt>Stands in for</dt>
        <dd>{{ data.standsInFor.join(', ') || 'nobody' }}</dd>
      </dl>
      <p v-if="done" role="status" data-test="handed-over">
        <b>{{ done.given }} handed over.</b>
        <template v-if="done.others"> {{ done.others }} are decided by others of their groups.</template>
        <span v-for="one in done.left" :key="one.number" class="tone-attention">
          {{ one.number }}: {{ one.reasons.map(other => words(other)).join(' ') }}</span
        >
      </p>
      <EntryForm v-if="!nothing" :reasons="reasons" :busy="busy" @submit="go">
        <p class="quiet">
          Whoever takes over gets the decisions and comes next in the chain. Rules and cost centres are changed where
          they stand, by two people.
        </p>
        <FormField label="Takes over" place="toPersonId"
          ><ElSelect v-model="toPersonId" filterable default-first-option data-test="takes-over"
            ><ElOption v-for="one in data.people" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
        ></FormField>
        <FormField label="Reason" place="reason"
          ><ElInput v-model="reason" maxlength="300" data-test="reason"
        /></FormField>
        <template #acts
          ><ElButton
            type="primary"
            native-type="submit"
            :disabled="busy || !toPersonId || reason.trim().length < 3"
            data-test="hand-over"
            >Hand over</ElButton
          ><ElButton @click="emit('close')">Leave it</ElButton></template
        >
      </EntryForm>
    </template>
    <p v-else role="status">Looking …</p>
  </ElDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 190px 1fr;
  gap: 4px 14px;
  margin-bottom: 14px;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
}
dd a {
  display: block;
}
</style>
