<script setup lang="ts">
import { ElButton, ElDatePicker } from 'element-plus'
import { computed, reactive, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { ReasonJson } from '#contract/fields.ts'
import { BankMessages, Payables, ProposeRun, Runs } from '#contract/pay/endpoints.ts'
import { api } from '#web/api.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

const route = useRoute()
const router = useRouter()
const session = useSession()
const { busy, reasons, run } = useAction()
const shown = computed(() =>
  route.path.startsWith('/pay/bank-messages')
    ? ('bankMessages' as const)
    : route.query.list === 'payables'
      ? ('payables' as const)
      : ('runs' as const),
)
const LISTS = { runs: Runs, payables: Payables, bankMessages: BankMessages }
const EMPTY = {
  runs: 'No payment run yet.',
  payables: 'Nothing posted waits to be paid.',
  bankMessages: 'Nothing that the bank said waits for a person.',
}
const form = reactive({ dueUntil: session.today, executeOn: session.today })
const left = shallowRef<ReasonJson[]>([])
const taken = shallowRef<number>()
async function propose(): Promise<void> {
  const done = await run(() => api(ProposeRun, { body: { ...form } }))
  if (!done) return
  left.value = done.left
  taken.value = done.taken
  if (done.id) await router.push({ path: `/pay/${done.id}`, query: {} })
}
</script>

<template>
  <StageFrame
    :key="shown"
    stage="pay"
    :name="shown"
    :list="LISTS[shown]"
    :home="shown === 'bankMessages' ? '/pay/bank-messages' : '/pay'"
  >
    <template #acts>
      <p class="bar list-acts">
        <RouterLink :to="{ path: '/pay' }" :class="{ on: shown === 'runs' }">Payment runs</RouterLink
        ><RouterLink
          :to="{ path: '/pay', query: { list: 'payables' } }"
          :class="{ on: shown === 'payables' }"
          data-test="payables"
          >Invoices to pay</RouterLink
        ><RouterLink to="/pay/bank-messages" :class="{ on: shown === 'bankMessages' }" data-test="bank-messages"
          >Bank’s messages</RouterLink
        >
      </p>
      <p v-if="session.may('payment.propose') && shown !== 'bankMessages'" class="bar list-acts">
        <span>Due until</span
        ><span data-test="due-until"
          ><ElDatePicker
            v-model="form.dueUntil"
            type="date"
            value-format="YYYY-MM-DD"
            format="D MMM YYYY"
            size="small"
            style="width: 140px"
            :clearable="false"
            aria-label="Due until" /></span
        ><ElButton size="small" type="primary" :disabled="busy" data-test="propose" @click="propose"
          >Propose a run</ElButton
        >
      </p>
      <ReasonList :reasons="reasons" />
      <div v-if="left.length" class="reasons check" role="status">
        <strong>{{ taken ? `${taken} taken; ` : 'Nothing to pay; ' }}{{ left.length }} left out</strong>
      </div>
      <ReasonList :reasons="left" />
      <p v-if="taken === 0 && left.length === 0" class="quiet" role="status">Nothing is due until then.</p>
    </template>
    <template #list-empty>{{ EMPTY[shown] }}</template>
    <RouterView />
  </StageFrame>
</template>

<style scoped>
.on {
  font-weight: 700;
  color: var(--ink);
}
</style>
