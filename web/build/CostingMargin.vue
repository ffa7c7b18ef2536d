<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { ExportCosting } from '#contract/build/costings.ts'
import { differenceText, isZeroText } from '#core/money/text.ts'
import { pathOf } from '#web/api.ts'
import { wantsLook } from '#web/build/costingText.ts'
import CostingSince from '#web/build/CostingSince.vue'
import type { ShownCosting, ShownFigures } from '#web/build/costingWorker.ts'
import type { Costing, Settings } from '#web/build/useCosting.ts'
import SheetMargin from '#web/frame/SheetMargin.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { amountText, day } from '#web/shared/words.ts'

/** Beside a costing: what else it could cost, what has no price, what can be made of it, what has changed, notes and history. */
const props = defineProps<{
  costing: Costing
  settings: Settings
  shown: ShownCosting | undefined
  others: Readonly<Record<string, ShownFigures>>
  mayChange: boolean
  busy: boolean
}>()
const emit = defineEmits<{
  open: [part: number]
  act: [what: string]
  beside: []
  drop: [name: string]
  use: [key: string]
  changed: []
}>()
const own = computed(() => props.shown?.figures)
const rows = computed(() =>
  Object.entries(props.others).map(([key, figures]) => ({
    key,
    figures,
    name: key.startsWith('kept ') ? key.slice(5) : laterLabel('build policy', key),
    kept: key.startsWith('kept '),
    apart: own.value && figures.unpriced === own.value.unpriced ? differenceText(figures.total, own.value.total) : null,
  })),
)
const unpriced = computed(() =>
  (props.shown?.rows ?? []).map((row, at) => ({ row, at })).filter(one => wantsLook(one.row.notes) === 0),
)
const can = (act: string): boolean => props.costing.actions.some(one => one.action === act && one.possible)
const exported = (format: 'csv' | 'xlsx' | 'pdf'): string => pathOf(ExportCosting, { id: props.costing.id, format })
</script>

<template>
  <SheetMargin :sheet="costing" @changed="emit('changed')">
    <section v-if="own" data-test="costing-beside">
      <h3>Beside it</h3>
      <p class="kv">
        <b>{{ laterLabel('build policy', settings.policy) }} ({{ own.suppliers }})</b><b>{{ amountText(own.total) }}</b>
      </p>
      <p v-for="one in rows" :key="one.key" class="kv">
        <span
          ><ElButton link class="name" :disabled="!mayChange" @click="emit('use', one.key)"
            >{{ one.name }} ({{ one.figures.suppliers }})</ElButton
          ><ElButton v-if="one.kept && mayChange" link aria-label="Drop it" @click="emit('drop', one.name)">×</ElButton
          ><small v-if="one.key === 'earliest' && one.figures.inOn" class="quiet">
            in {{ day(one.figures.inOn) }}</small
          ></span
        ><span class="num"
          >{{ amountText(one.figures.total)
          }}<small v-if="one.apart !== null && !isZeroText(one.apart)" class="quiet apart"
            >{{ one.apart.startsWith('-') ? '' : '+' }}{{ amountText(one.apart) }}</small
          ><small v-else-if="one.apart === null" class="tone-attention apart"
            >{{ one.figures.unpriced }} not priced</small
          ></span
        >
      </p>
      <p class="bar small">
        <ElButton v-if="mayChange && costing.beside.length < 4" link data-test="put-beside" @click="emit('beside')"
          >put these settings beside</ElButton
        >
      </p>
      <p class="kv">
        <span>All in on</span><span>{{ own.inOn ? day(own.inOn) : '–' }}</span>
      </p>
    </section>
    <section v-if="unpriced.length" data-test="not-priced">
      <h3>Not priced yet</h3>
      <p v-for="one in unpriced.slice(0, 8)" :key="one.row.key" class="kv">
        <a href="#" @click.prevent="emit('open', one.at)">{{ one.row.name }}</a>
      </p>
      <p class="quiet">{{ unpriced.length }} of {{ shown!.rows.length }} parts; the sum is without them.</p>
    </section>
    <section class="next">
      <h3>Next</h3>
      <ElButton
        v-if="can('request')"
        type="primary"
        :disabled="busy"
        data-test="request-parts"
        @click="emit('act', 'request')"
        >Request what is priced</ElButton
      >
      <ElButton
        v-if="can('ask') && unpriced.length"
        :disabled="busy"
        data-test="ask-unpriced"
        @click="emit('act', 'ask')"
        >Ask for quotes</ElButton
      >
      <ElButton v-if="can('share')" :disabled="busy" data-test="share-costing" @click="emit('act', 'share')"
        >Share a link for reading</ElButton
      >
      <ElButton v-if="can('takeUp')" type="primary" :disabled="busy" data-test="take-up" @click="emit('act', 'takeUp')"
        >Take it up again</ElButton
      >
      <p class="bar small">
        <a :href="exported('xlsx')" download data-test="export-xlsx">XLSX</a>
        <a :href="exported('csv')" download>CSV</a>
        <a :href="exported('pdf')" download data-test="export-pdf">PDF</a>
        <ElButton v-if="can('putAway')" link :disabled="busy" data-test="put-away" @click="emit('act', 'putAway')"
          >put away</ElButton
        >
      </p>
      <p v-for="link in costing.links" :key="link.id" class="kv quiet">
        <span
          >link until {{ day(link.endsOn)
          }}<template v-if="link.readers.length">, read by {{ link.readers.join(', ') }}</template></span
        >
        <ElButton v-if="can('share')" link data-test="end-link" @click="emit('act', `end ${link.id}`)">end it</ElButton>
      </p>
    </section>
    <CostingSince
      v-if="costing.changes.length"
      :costing="costing"
      :may-change="mayChange"
      :busy="busy"
      @again="emit('act', 'priceAgain')"
    />
  </SheetMargin>
</template>

<style scoped>
.kv a,
.kv .el-button {
  display: inline-flex;
  align-items: center;
  min-width: 24px;
  min-height: 24px;
}
.name {
  color: inherit;
  white-space: normal;
  text-align: left;
}
.num {
  white-space: nowrap;
  text-align: right;
}
.apart {
  display: block;
}
.next > .el-button {
  display: block;
  width: 100%;
  margin: 0 0 7px;
}
</style>
