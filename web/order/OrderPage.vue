<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { ImportOrders, Orders } from '#contract/order/endpoints.ts'
import { api } from '#web/api.ts'
import ImportDialog from '#web/shared/ImportDialog.vue'
import TakeExchangeField from '#web/order/TakeExchangeField.vue'
import WorkbookDialog from '#web/order/WorkbookDialog.vue'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'

const session = useSession()
const importing = ref(false)
const exchanging = ref(false)
const chosen = ref<readonly string[]>([])
</script>

<template>
  <StageFrame
    stage="order"
    name="orders"
    :list="Orders"
    :together="session.may('order.write') ? 'order' : undefined"
    @choose="chosen = $event"
  >
    <template #acts
      ><p class="bar list-acts">
        <RouterLink v-if="session.may('order.write')" to="/order/to-buy" data-test="to-buy"
          ><ElButton size="small" type="primary">Approved, to be bought</ElButton></RouterLink
        ><RouterLink v-if="session.may('order.write')" to="/order/following" data-test="following">Following</RouterLink
        ><ElButton link data-test="workbook" @click="exchanging = true">Workbook</ElButton
        ><ElButton v-if="session.may('order.write')" link data-test="import-orders" @click="importing = true"
          >Take over open orders</ElButton
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
  <WorkbookDialog
    v-if="exchanging"
    :chosen="chosen"
    :may-write="session.may('order.write')"
    @close="exchanging = false"
  />
  <ImportDialog
    v-if="importing"
    title="Take over open orders from before"
    what="a CSV file with the columns order, supplier, description, quantity (what was ordered), price, cost_centre, account and, if you like, currency, item, unit, price_base, need_by, project, place, received and billed (how much of it so far) and promised (the day); each row is a line of goods. What is billed counts as spent. The suppliers are told nothing"
    :send="(fileId, dryRun) => api(ImportOrders, { body: { fileId, dryRun } })"
    @close="importing = false"
    ><template #beside><TakeExchangeField @taken="importing = false" /></template
  ></ImportDialog>
</template>
