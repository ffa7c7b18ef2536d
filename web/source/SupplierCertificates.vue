<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import { CertificateFile, type ReadSupplier } from '#contract/source/endpoints.ts'
import { pathOf } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import { day, label } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** What the supplier's categories ask for, how it stands, and the certificates that show it. */
defineProps<{ sheet: ResponseOf<typeof ReadSupplier> }>()
const emit = defineEmits<{ add: [kind: string, category: string, replaces: string | null]; withdraw: [id: string] }>()
const session = useSession()
const RULES = lineColumns({ sign: '', kind: 'Kind', standing: 'How it stands', '#acts': '' })
const CERTIFICATES = lineColumns({
  kind: 'Kind',
  issuer: 'Issued by',
  number: 'Number',
  holds: 'Holds',
  file: 'File',
  '#acts': '',
})
const tone = (standing: string): string =>
  standing === 'holds' ? 'tone-settled' : standing === 'soon' ? 'tone-attention' : 'tone-stop'
const sign = (standing: string): string => (standing === 'holds' ? '✓' : standing === 'soon' ? '◆' : '▲')
</script>

<template>
  <section class="section">
    <h2>Qualified for</h2>
    <p v-if="!sheet.certificateRules.length && !sheet.certificates.length" class="quiet">
      Its categories ask for no certificate.
    </p>
    <LineTable
      v-else
      :rows="sheet.certificateRules"
      :columns="RULES"
      label="What its categories ask for"
      bare
      :key-of="rule => rule.category + rule.kind"
      :mark="rule => `rule-${rule.kind}`"
    >
      <template #sign="{ row: rule }"
        ><span :class="tone(rule.standing)">{{ sign(rule.standing) }}</span></template
      >
      <template #kind="{ row: rule }"
        ><b>{{ rule.kind }}</b>
        <span class="quiet">for {{ rule.category }}, otherwise it {{ laterLabel('lapse', rule.lapse) }}</span></template
      >
      <template #standing="{ row: rule }"
        ><span :class="tone(rule.standing)"
          >{{ label('standing', rule.standing)
          }}<template v-if="rule.validTo"
            >, {{ rule.standing === 'lapsed' ? 'ended' : 'until' }} {{ day(rule.validTo) }}</template
          ></span
        ></template
      >
      <template #acts="{ row: rule }"
        ><ElButton
          v-if="session.may('supplier.write') && rule.standing !== 'holds'"
          link
          @click="emit('add', rule.kind, rule.category, null)"
          >add the new one</ElButton
        ></template
      >
    </LineTable>
    <details v-if="sheet.certificates.length">
      <summary>
        {{ sheet.certificates.length }} {{ sheet.certificates.length === 1 ? 'certificate' : 'certificates' }}
      </summary>
      <LineTable
        :rows="sheet.certificates"
        :columns="CERTIFICATES"
        label="Certificates"
        :key-of="one => one.id"
        :off="one => one.state !== 'current'"
      >
        <template #kind="{ row: one }"
          >{{ one.kind }}<small v-if="one.category">{{ one.category }}</small></template
        >
        <template #issuer="{ row: one }">{{ one.issuer }}</template>
        <template #number="{ row: one }">{{ one.number }}</template>
        <template #holds="{ row: one }"
          >{{ day(one.validFrom) }} to {{ one.validTo ? day(one.validTo) : 'no end'
          }}<small v-if="one.state !== 'current'">{{
            one.state === 'replaced' ? 'replaced' : 'taken out'
          }}</small></template
        >
        <template #file="{ row: one }"
          ><a v-if="one.fileId" :href="pathOf(CertificateFile, { id: one.id })" download>{{
            one.fileName
          }}</a></template
        >
        <template #acts="{ row: one }"
          ><template v-if="one.state === 'current' && session.may('supplier.write')"
            ><ElButton link @click="emit('add', one.kind, one.category, one.id)">replace</ElButton>
            <ElButton link @click="emit('withdraw', one.id)">take out</ElButton></template
          ></template
        >
      </LineTable>
    </details>
  </section>
</template>

<style scoped>
summary {
  cursor: pointer;
  color: var(--tide);
  font-size: 12.5px;
  margin: 8px 0 4px;
}
</style>
