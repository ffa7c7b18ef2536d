<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadRequisition } from '#contract/request/endpoints.ts'
import { changeText } from '#web/decide/changeWords.ts'

/** What is otherwise than when it was asked about: as it was, struck out, and as it is. */
defineProps<{ changes: ResponseOf<typeof ReadRequisition>['changes'] }>()
</script>

<template>
  <section
    v-if="changes.length"
    class="changed"
    data-test="changed-lines"
    aria-label="Changed since it was asked about"
  >
    <h2>Changed since it was asked about</h2>
    <ul>
      <li v-for="(one, index) in changes" :key="index">
        <template v-for="said in [changeText(one)]" :key="said.what"
          ><span v-if="one.line" class="line">{{ one.line }}, </span>{{ said.what
          }}<template v-if="said.before || said.after"
            >: <del v-if="said.before">{{ said.before }}</del> <ins v-if="said.after">{{ said.after }}</ins></template
          ></template
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.changed {
  margin-top: 12px;
  padding: 6px 12px;
  border-left: 3px solid var(--brass);
  max-width: 760px;
}
h2 {
  font: 600 13px var(--sans);
}
ul {
  list-style: none;
  padding: 0;
  margin: 4px 0 0;
}
del {
  color: var(--ink-quiet);
}
ins {
  text-decoration: none;
  font-weight: 600;
}
</style>
