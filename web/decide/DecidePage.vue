<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { Decisions } from '#contract/decide/endpoints.ts'
import MyDecisions from '#web/decide/MyDecisions.vue'
import StageFrame from '#web/frame/StageFrame.vue'

/** One's own decisions; a request opened, or a view of all of them, stands in the frame of the stages. */
const route = useRoute()
const own = computed(
  () => route.params.id === undefined && !['view', 'where', 'q', 'sort'].some(name => name in route.query),
)
</script>

<template>
  <MyDecisions v-if="own" />
  <StageFrame v-else stage="decide" name="decisions" :list="Decisions">
    <template #list-empty
      >Nothing waits for your decision. The other views show what is coming and what you decided.</template
    >
    <RouterView />
  </StageFrame>
</template>
