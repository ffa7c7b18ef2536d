<script setup lang="ts">
import { Overdue } from '#contract/receive/overdue.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'

/** What should be in and is not: by whom, since when, what it is worth, whose work it holds up; several are chased at once. */
const session = useSession()
</script>

<template>
  <StageFrame
    stage="receive"
    name="overdue"
    home="/receive/overdue"
    :list="Overdue"
    :together="session.may('order.write') ? 'order' : undefined"
    ><template #acts
      ><RouterLink v-if="session.may('budget.readAll')" class="way" to="/receive/accrued" data-test="to-accrued"
        >Received, not billed</RouterLink
      ></template
    ><template #list-empty>Nothing is overdue.</template><RouterView
  /></StageFrame>
</template>

<style scoped>
.way {
  line-height: 24px;
}
</style>
