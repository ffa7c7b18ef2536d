<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { SupplierOrders } from '#contract/order/supplierOrders.ts'
import { api } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useSession } from '#web/people/session.ts'
import { kindTopic, useNews } from '#web/news/news.ts'
import { amountText, since } from '#web/shared/words.ts'
import AskedList from '#web/supplier-pages/AskedList.vue'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'
import { t } from '#web/shared/language.ts'

const orders = shallowRef<ResponseOf<typeof SupplierOrders>['orders']>()
const failure = shallowRef<unknown>()
async function load(): Promise<void> {
  try {
    if (session.may('supplierPages.orders')) orders.value = (await api(SupplierOrders)).orders
    failure.value = undefined
  } catch (error) {
    failure.value = error
  }
}
const session = useSession()
onMounted(load)
useNews([kindTopic('order')], () => void load())
const waiting = computed(() => orders.value?.filter(order => ['answer', 'invoice'].includes(order.waiting)) ?? [])
const others = computed(() => orders.value?.filter(order => !['answer', 'invoice'].includes(order.waiting)) ?? [])
const waits = (state: string): string =>
  ({
    answer: t('waits for your answer'),
    invoice: t('delivered, can be invoiced'),
    buyer: t('your proposal waits for the buyer'),
    nothing: t('under way'),
    cancelled: t('cancelled'),
    closed: t('closed'),
    sealed: t('closed for good'),
  })[state] ?? state
</script>

<template>
  <SupplierFrame>
    <SheetFailure v-if="failure" :failure="failure" @again="load" />
    <AskedList v-if="session.may('supplierPages.quotes')" />
    <template v-if="!failure && orders">
      <h1>
        {{
          waiting.length
            ? waiting.length === 1
              ? t('An order waits for you')
              : t('{count} orders wait for you', { count: waiting.length })
            : t('Nothing waits for you')
        }}
      </h1>
      <p v-if="orders.length === 0" class="empty">{{ t('When an order is issued to you, it stands here.') }}</p>
      <section v-for="(group, index) in [waiting, others]" :key="index">
        <h2 v-if="index && group.length" class="section">{{ t('The others') }}</h2>
        <ul>
          <li v-for="order in group" :key="order.id">
            <RouterLink :to="`/supplier/orders/${order.id}`" :data-test="`order-${order.number}`"
              ><span class="text"
                ><b>{{ order.title }}</b
                ><span class="quiet"
                  >{{ order.number
                  }}{{ order.revision ? `, ${t('revision {revision}', { revision: order.revision })}` : '' }},
                  {{ since(order.issuedAt) }}</span
                ></span
              ><span class="num"
                >{{ amountText(order.total) }} <span class="unit">{{ order.currency }}</span><span
                  :class="['answer', 'invoice'].includes(order.waiting) ? 'tone-attention' : 'quiet'"
                  >{{ waits(order.waiting) }}</span
                ></span
              ></RouterLink
            >
          </li>
        </ul>
      </section>
    </template>
  </SupplierFrame>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: 12px 0;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
ul:empty {
  display: none;
}
li + li {
  border-top: 1px solid var(--rule-light);
}
li a {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  padding: 11px 16px;
  color: inherit;
}
li a:hover {
  text-decoration: none;
  background: #fbf7ee;
}
.text,
.num {
  display: flex;
  flex-direction: column;
}
.num > span:last-child {
  font-size: 12px;
}
b {
  font-weight: 600;
}
.text .quiet {
  font-size: 12px;
}
</style>
