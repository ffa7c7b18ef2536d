<script setup lang="ts">
import type { Agreement } from '#web/agreements/agreementText.ts'
import RevisionDifferences from '#web/agreements/RevisionDifferences.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { amountText, day, label, stamp } from '#web/shared/words.ts'

/** What else is agreed, the orders under it, and how it came to say what it says. */
const props = defineProps<{ sheet: Agreement }>()
const callers = (): string => {
  const { costCentres, addressIds, personIds } = props.sheet.content.callers
  const names = [
    ...costCentres,
    ...addressIds.map(id => props.sheet.names[id] ?? ''),
    ...personIds.map(id => props.sheet.names[id] ?? ''),
  ]
  return names.length === 0 ? 'everybody may call off' : `only ${names.join(', ')}`
}
</script>

<template>
  <section class="section">
    <h2>Terms</h2>
    <p class="terms">
      <span
        ><span class="quiet">in force</span> {{ day(sheet.content.startsOn) }} to {{ day(sheet.content.endsOn) }}</span
      >
      <span><span class="quiet">for whom</span> {{ callers() }}</span>
      <span
        ><span class="quiet">above a ceiling</span>
        {{ sheet.content.whenOver === 'stop' ? 'it is stopped' : 'it wants a reason' }}</span
      >
      <span v-if="sheet.content.incoterm"
        ><span class="quiet">Incoterm</span> {{ sheet.content.incoterm }} {{ sheet.content.incotermPlace }}</span
      >
      <span v-if="sheet.event"
        ><span class="quiet">from</span> <RouterLink :to="sheet.event.path">{{ sheet.event.number }}</RouterLink></span
      >
    </p>
    <p v-if="sheet.content.serviceLevel" class="text">{{ sheet.content.serviceLevel }}</p>
    <p v-if="sheet.content.terms" class="text">{{ sheet.content.terms }}</p>
  </section>
  <section v-if="sheet.orders.length" class="section">
    <h2>
      Orders under it <small v-if="sheet.moreOrders" class="quiet">and {{ sheet.moreOrders }} more</small>
    </h2>
    <LineTable
      :rows="sheet.orders"
      :columns="
        lineColumns({ '!number': 'Order', title: 'What', state: 'State', '~on': 'Since', '#amount': 'Called off' })
      "
      label="Orders under it"
      :key-of="one => one.id"
      ><template #number="{ row: one }"
        ><RouterLink :to="one.path">{{ one.number }}</RouterLink></template
      ><template #title="{ row: one }">{{ one.title }}</template
      ><template #state="{ row: one }">{{ label('state', one.state) }}</template
      ><template #on="{ row: one }">{{ day(one.on) }}</template
      ><template #amount="{ row: one }"
        >{{ amountText(one.amount) }} <small class="unit">{{ one.currency }}</small></template
      ></LineTable
    >
  </section>
  <section v-if="sheet.revisions.length" class="section">
    <h2>Revisions</h2>
    <div v-for="one in sheet.revisions" :key="one.revision" class="revision">
      <b>{{ one.revision }}</b> <span class="quiet">{{ stamp(one.at) }}, {{ one.by }}</span>
      <template v-if="one.reason"> “{{ one.reason }}”</template>
      <RevisionDifferences v-if="one.differences.length" :differences="one.differences" />
    </div>
  </section>
</template>

<style scoped>
.terms {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 26px;
}
.text {
  white-space: pre-line;
  max-width: 640px;
  margin-top: 6px;
}
.revision {
  padding: 3px 0;
}
</style>
