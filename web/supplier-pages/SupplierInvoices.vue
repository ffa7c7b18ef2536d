<script setup lang="ts">
import { ElInput } from 'element-plus'
import { ref, shallowRef, watch } from 'vue'
import { SupplierInvoices } from '#contract/bill/credits.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { api } from '#web/api.ts'
import { kindTopic, useNews } from '#web/news/news.ts'
import { t } from '#web/shared/language.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { amountText, day } from '#web/shared/words.ts'
import { invoiceState } from '#web/supplier-pages/ownOrderWords.ts'
import SupplierFrame from '#web/supplier-pages/SupplierFrame.vue'

/** A supplier's own invoices, found by its own numbers. */
const search = ref('')
const found = shallowRef<ResponseOf<typeof SupplierInvoices>>()
const failure = shallowRef<unknown>()
let asked = 0
async function load(): Promise<void> {
  const mine = ++asked
  try {
    const answer = await api(SupplierInvoices, { query: search.value.trim() ? { search: search.value.trim() } : {} })
    if (mine === asked) found.value = answer
    failure.value = undefined
  } catch (error) {
    failure.value = error
  }
}
watch(search, load, { immediate: true })
useNews([kindTopic('invoice')], () => void load())
</script>

<template>
  <SupplierFrame>
    <h1>{{ t('Your invoices') }}</h1>
    <p class="find">
      <ElInput
        v-model="search"
        clearable
        :placeholder="t('Find by your number, or that of the order')"
        :aria-label="t('Find by your number, or that of the order')"
        data-test="find-invoice"
      />
    </p>
    <SheetFailure v-if="failure" :failure="failure" @again="load" />
    <template v-else-if="found">
      <p v-if="found.invoices.length === 0" class="empty">
        {{ search ? t('None is found.') : t('When you send an invoice for an order, it stands here.') }}
      </p>
      <LineTable
        v-else
        :rows="found.invoices"
        :columns="
          lineColumns({
            number: t('Number'),
            date: t('Dated'),
            order: t('Order'),
            state: t('State'),
            due: t('Due'),
            '#amount': t('Amount'),
          })
        "
        :label="t('Your invoices')"
        :key-of="one => one.id"
        ><template #number="{ row: one }"
          ><RouterLink :to="`/supplier/invoices/${one.id}`">{{ one.number }}</RouterLink></template
        >
        <template #date="{ row: one }">{{ day(one.issueDate) }}</template>
        <template #order="{ row: one }">{{ one.order }}</template>
        <template #state="{ row: one }">{{ invoiceState(one.state) }}</template>
        <template #due="{ row: one }">{{ one.dueOn ? day(one.dueOn) : '' }}</template>
        <template #amount="{ row: one }"
          >{{ amountText(one.gross) }} <span class="unit">{{ one.currency }}</span></template
        ></LineTable
      >
      <p v-if="found.more" class="quiet">{{ t('The newest are shown. Find older ones by their number.') }}</p>
    </template>
  </SupplierFrame>
</template>

<style scoped>
.find {
  max-width: 420px;
  margin: 10px 0 16px;
}
</style>
