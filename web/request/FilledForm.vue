<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'

/** The form that a request was made from, as it was filled. */
defineProps<{ form: NonNullable<ResponseOf<typeof ReadRequisition>['form']> }>()
</script>

<template>
  <section class="answers">
    <h2>{{ form.name }}</h2>
    <dl>
      <template v-for="one in form.said" :key="one.question"
        ><dt>{{ one.question }}</dt>
        <dd>{{ one.answer }}</dd></template
      >
    </dl>
  </section>
</template>

<style scoped>
.answers {
  margin-top: 14px;
}
dl {
  display: grid;
  grid-template-columns: minmax(120px, 240px) 1fr;
  gap: 2px 16px;
  margin: 6px 0;
}
dt {
  color: var(--ink-quiet);
}
dd {
  margin: 0;
}
</style>
