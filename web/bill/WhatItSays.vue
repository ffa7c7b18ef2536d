<script setup lang="ts">
import { ElButton } from 'element-plus'
import { shallowRef } from 'vue'
import { ReadInvoiceTerms } from '#contract/bill/terms.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ruleWords } from '#contract/messages/invoiceRules.ts'
import { groupWords, termWords } from '#contract/messages/invoiceTerms.ts'
import { api } from '#web/api.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'

/** All that the file of an invoice says, asked once somebody wants to see it. */
const props = defineProps<{ invoiceId: string }>()
const { busy, reasons, run } = useAction()
const said = shallowRef<ResponseOf<typeof ReadInvoiceTerms>>()
async function read(): Promise<void> {
  said.value = (await run(() => api(ReadInvoiceTerms, { params: { id: props.invoiceId } }))) ?? undefined
}
/** Groups that there are several of are numbered. */
const called = ({ group, number }: { group: string; number: number }): string =>
  said.value!.groups.filter(one => one.group === group).length > 1
    ? `${groupWords(group)} ${number}`
    : groupWords(group)
</script>

<template>
  <section class="section">
    <ElButton v-if="!said" size="small" :disabled="busy" data-test="all-it-says" @click="read"
      >All that its file says</ElButton
    >
    <ReasonList :reasons="reasons" />
    <template v-if="said"
      ><h2>All that its file says</h2>
      <p v-if="said.checks.length" class="tone-attention">
        <template v-for="(check, at) in said.checks" :key="at"
          ><b>{{ check.rule }}</b> {{ ruleWords(check.rule) }} <span class="quiet">{{ check.place }}</span><br
        /></template>
      </p>
      <div class="terms" data-test="terms">
        <section v-for="(one, at) in said.groups" :key="at">
          <h3>{{ called(one) }}</h3>
          <dl>
            <template v-for="(term, index) in one.terms" :key="index"
              ><dt>
                {{ termWords(term.term) }} <span class="unit">{{ term.term }}</span>
              </dt>
              <dd>{{ term.value }}</dd></template
            >
          </dl>
        </section>
      </div></template
    >
  </section>
</template>

<style scoped>
.terms {
  columns: 340px 2;
  column-gap: 28px;
}
.terms section {
  break-inside: avoid;
  margin-bottom: 12px;
}
dl {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.2fr);
  gap: 2px 12px;
}
dt {
  color: var(--ink-quiet);
}
dd {
  overflow-wrap: anywhere;
}
</style>
