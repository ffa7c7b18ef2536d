<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import { since } from '#web/shared/words.ts'

/** The account that the supplier is paid to, and who has checked it. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadSupplier> }>()
const current = computed(() => props.sheet.bankAccounts.find(one => one.state !== 'closed'))
const iban = (text: string): string => text.replace(/(.{4})/g, '$1 ').trim()
</script>

<template>
  <section class="section">
    <h2>Paid to</h2>
    <p v-if="!current" class="quiet">No account yet.</p>
    <p v-else data-test="account">
      <b>{{ iban(current.iban) }}</b> {{ current.bic }}, {{ current.holder }}:
      <span :class="current.state === 'proven' ? 'tone-settled' : 'tone-attention'">{{
        current.state === 'proven'
          ? `✓ checked by ${current.provenBy}`
          : `◆ entered by ${current.changedBy} ${since(current.changedAt)}, not checked yet`
      }}</span><br /><span class="quiet">{{ current.proof ? `“${current.proof}”` : '' }}</span
      ><span v-if="current.sharedWith" class="tone-stop"> ▲ The same account is kept for {{ current.sharedWith }}.</span
      ><span v-if="current.held" class="tone-attention">
        {{ current.held === 1 ? 'One invoice waits' : `${current.held} invoices wait` }} for the check.</span
      >
    </p>
  </section>
</template>
