<script setup lang="ts">
import { ElButton } from 'element-plus'
import { onMounted, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ListForms } from '#contract/request/forms.ts'
import { LINE_KINDS, type LineKind } from '#core/request/kinds.ts'
import { api } from '#web/api.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Ways to add something to a request; an empty one can be a form instead. */
const props = defineProps<{ count: number; most: number }>()
const emit = defineEmits<{ add: [kind: LineKind] }>()
const forms = shallowRef<ResponseOf<typeof ListForms>['forms']>([])
onMounted(async () => {
  if (props.count === 0) forms.value = (await api(ListForms, { query: {} })).forms
})
</script>

<template>
  <div class="add">
    <p class="wish">
      <span class="quiet">Add</span
      ><ElButton
        v-for="kind in LINE_KINDS"
        :key="kind"
        link
        :disabled="count >= most"
        :data-test="`add-${kind}`"
        @click="emit('add', kind)"
        >{{ laterLabel('kind wish', kind) }}</ElButton
      ><RouterLink to="/request/catalogue">something from the catalogue</RouterLink
      ><RouterLink to="/request/lists">a repeat list</RouterLink>
    </p>
    <p v-if="forms.length" class="wish">
      <span class="quiet">Or fill a form</span
      ><RouterLink
        v-for="one in forms"
        :key="one.id"
        :to="`/request/forms/${one.id}`"
        :data-test="`form-${one.code}`"
        >{{ one.name }}</RouterLink
      >
    </p>
  </div>
</template>

<style scoped>
.add {
  margin-top: 14px;
}
.wish {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-bottom: 6px;
}
.wish a {
  text-decoration: none;
}
</style>
