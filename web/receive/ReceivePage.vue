<script setup lang="ts">
import { Deliveries } from '#contract/receive/endpoints.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'

const session = useSession()
</script>

<template>
  <StageFrame stage="receive" name="deliveries" :list="Deliveries"
    ><template #acts
      ><span class="ways"
        ><RouterLink to="/receive/expected" data-test="to-expected">By day</RouterLink
        ><RouterLink to="/receive/overdue" data-test="to-overdue">Overdue</RouterLink
        ><template v-if="session.may('order.read')"
          ><RouterLink to="/receive/settle" data-test="to-settle">To settle</RouterLink
          ><RouterLink to="/receive/set-aside" data-test="to-set-aside">Not ordered</RouterLink
          ><RouterLink to="/receive/inspections" data-test="to-inspections">Inspections</RouterLink
          ><RouterLink to="/receive/assets" data-test="to-assets">Assets</RouterLink
          ><RouterLink to="/receive/stock" data-test="to-stock">Stock</RouterLink></template
        ></span
      ></template
    ><template #list-empty>Nothing is expected. What has come in stands under “All in”.</template><RouterView
  /></StageFrame>
</template>

<style scoped>
.ways {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
/* big enough to be hit: WCAG 2.2, 2.5.8 */
.ways a {
  line-height: 24px;
}
</style>
