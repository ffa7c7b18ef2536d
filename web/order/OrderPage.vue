<script setup lang="ts">
import { ElButton } from 'element-plus'
import { Orders } from '#contract/order/endpoints.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'

const session = useSession()
</script>

<template>
  <StageFrame stage="order" name="orders" :list="Orders">
    <template v-if="session.may('order.write')" #acts
      ><p class="bar list-acts">
        <RouterLink to="/order/to-buy" data-test="to-buy"
          ><ElButton size="small" type="primary">Approved, to be bought</ElButton></RouterLink
        >
      </p></template
    >
    <template #list-empty
      >No order wants a word.
      <template v-if="session.may('order.write')"
        >Buy what is <RouterLink to="/order/to-buy">approved</RouterLink>.</template
      ></template
    >
    <RouterView />
  </StageFrame>
</template>
