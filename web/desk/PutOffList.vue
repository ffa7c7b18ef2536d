<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { z } from 'zod'
import type { ReadDesk } from '#contract/desk/endpoints.ts'
import { day, words } from '#web/shared/words.ts'

/** What was put off, and until when. */
defineProps<{ later: z.output<(typeof ReadDesk)['response']>['later'] }>()
const emit = defineEmits<{ back: [key: string] }>()
</script>

<template>
  <section class="put-off">
    <h2>Put off</h2>
    <ul>
      <li v-for="one in later" :key="one.key">
        <span
          ><RouterLink :to="one.path">{{ words(one.sentence) }}</RouterLink></span
        ><span class="quiet">until {{ day(one.until) }}</span
        ><ElButton link data-test="put-back" @click="emit('back', one.key)">back</ElButton>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.put-off {
  margin-top: 30px;
}
h2 {
  font-size: 14px;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: flex;
  gap: 16px;
  padding: 4px 0 4px 18px;
  font-size: 12.5px;
}
li span:first-child {
  flex: 1;
  min-width: 0;
}
</style>
