<script setup lang="ts">
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import { amountText, label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What is kept of the supplier: latest orders, defaults with where each comes from, locations, contacts, answers. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadSupplier> }>()
const MOST = 30
const contacts = computed(() => props.sheet.supplier.contacts.slice(0, MOST))
const ORDERS = lineColumns({ number: 'Number', title: 'Title', state: 'State', '#amount': 'Amount' })
const DEFAULTS = lineColumns({ key: 'Default', value: 'Value', '~from': 'From' })
const LOCATIONS = lineColumns({ name: 'Name', address: 'Address', '~roles': 'For' })
const CONTACTS = lineColumns({ name: 'Name', email: 'Mail', phone: 'Telephone', '~roles': 'For' })
const ANSWERS = lineColumns({ '~label': 'Question', answer: 'Answer' })
const nameOf = (locationId: string): string =>
  props.sheet.supplier.locations.find(other => other.id === locationId)?.name ?? ''
</script>

<template>
  <section v-if="sheet.orders.length" class="section">
    <h2>Latest orders</h2>
    <LineTable :rows="sheet.orders" :columns="ORDERS" label="Latest orders" bare :key-of="one => one.id">
      <template #number="{ row: one }"
        ><RouterLink :to="`/order/${one.id}`">{{ one.number }}</RouterLink></template
      >
      <template #title="{ row: one }">{{ one.title }}</template>
      <template #state="{ row: one }">{{ label('state', one.state) }}</template>
      <template #amount="{ row: one }"
        >{{ amountText(one.amount) }} <span class="unit">{{ one.currency }}</span></template
      >
    </LineTable>
  </section>
  <section class="section">
    <h2>Defaults</h2>
    <LineTable :rows="sheet.effective" :columns="DEFAULTS" label="Defaults" bare :key-of="one => one.key">
      <template #key="{ row: one }">{{ laterLabel('default', one.key) }}</template>
      <template #value="{ row: one }"
        ><b>{{ laterLabel('default value', one.value) || '–' }}</b></template
      >
      <template #from="{ row: one }"
        >{{ label('from', one.from)
        }}<template v-if="one.from === 'supplier' && one.otherwise"
          >; otherwise {{ laterLabel('default value', one.otherwise) }}</template
        ></template
      >
    </LineTable>
    <p v-for="one in sheet.locationEffective" :key="one.locationId" class="quiet">
      {{ nameOf(one.locationId) }} says otherwise:
      {{
        one.values
          .map(value => `${laterLabel('default', value.key)} ${laterLabel('default value', value.value)}`)
          .join(', ')
      }}.
    </p>
  </section>
  <section class="section">
    <h2>Locations</h2>
    <LineTable :rows="sheet.supplier.locations" :columns="LOCATIONS" label="Locations" bare :key-of="one => one.id!">
      <template #name="{ row: one }"
        ><b>{{ one.name }}</b></template
      >
      <template #address="{ row: one }"
        >{{ [one.street, `${one.postalCode} ${one.city}`.trim(), one.country].filter(Boolean).join(', ')
        }}<small>{{ one.phone }}</small></template
      >
      <template #roles="{ row: one }">{{
        one.roles.map(role => laterLabel('location role', role)).join(', ')
      }}</template>
    </LineTable>
  </section>
  <section class="section">
    <h2>Contacts</h2>
    <LineTable :rows="contacts" :columns="CONTACTS" label="Contacts" bare :key-of="one => one.id!">
      <template #name="{ row: one }"
        ><b>{{ one.name }}</b></template
      >
      <template #email="{ row: one }"
        ><a v-if="one.email" :href="`mailto:${one.email}`">{{ one.email }}</a></template
      >
      <template #phone="{ row: one }">{{ one.phone }}</template>
      <template #roles="{ row: one }"
        >{{ one.roles.map(role => laterLabel('contact role', role)).join(', ')
        }}{{ one.language !== 'en' ? `, ${one.language}` : '' }}</template
      >
    </LineTable>
    <p v-if="sheet.supplier.contacts.length > MOST" class="quiet">
      and {{ sheet.supplier.contacts.length - MOST }} more
    </p>
  </section>
  <section v-if="sheet.answers.length" class="section">
    <h2>Its answers</h2>
    <LineTable :rows="sheet.answers" :columns="ANSWERS" label="Its answers" bare :key-of="one => one.label">
      <template #label="{ row: one }">{{ one.label }}</template>
      <template #answer="{ row: one }">{{ one.answer }}</template>
    </LineTable>
  </section>
</template>
