<script setup lang="ts">
import '#contract/messages/later.ts'
import '#web/theme/later.scss'
import { computed, ref } from 'vue'
import CostCurve from '#web/build/CostCurve.vue'
import CostDrivers from '#web/build/CostDrivers.vue'
import CostingActs from '#web/build/CostingActs.vue'
import CostingHead from '#web/build/CostingHead.vue'
import CostingMargin from '#web/build/CostingMargin.vue'
import WorkPage from '#web/frame/WorkPage.vue'
import PartDialog from '#web/build/PartDialog.vue'
import PartTable from '#web/build/PartTable.vue'
import SettingsDialog from '#web/build/SettingsDialog.vue'
import { type Parts, useCosting } from '#web/build/useCosting.ts'
import { useLineActs } from '#web/build/useLineActs.ts'
import { lineName } from '#core/build/partsList.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'

/** What a many-part build costs to buy, and all that is done about it. */
const props = defineProps<{ id: string }>()
const costing = useCosting(props.id)
const {
  data,
  failure,
  reload,
  settings,
  parts,
  beside,
  builds,
  shown,
  curve,
  others,
  mayChange,
  watched,
  worker,
  action,
  move,
  keep,
} = costing
const lines = useLineActs(costing)
const about = ref('')
/** The key of the part that is open: places change when lines become other items. */
const opened = ref('')
const asked = ref('')
const at = computed(() => shown.value?.rows.findIndex(one => one.key === opened.value) ?? -1)
const row = computed(() => shown.value?.rows[at.value])
const openPart = (place: number): void => {
  opened.value = shown.value?.rows[place]?.key ?? ''
}
const circle = computed(() => {
  const [first] = shown.value?.circles ?? []
  return first?.map(at => lineName(data.value!.lines[at]!)).join(' → ')
})
const withoutItem = ({ itemId: _taken, ...rest }: Parts[string] = {}): Parts[string] => rest
function use(key: string): void {
  const kept = beside.value.find(one => `kept ${one.name}` === key)
  void keep(kept ? { ...kept.settings, builds: builds.value } : { policy: key as 'cheapest' })
}
function act(what: string): void {
  if (what === 'priceAgain') void lines.priceAgain()
  else if (what.startsWith('end ')) void lines.endLink(what.slice(4))
  else if (what === 'putAway' || what === 'takeUp') void lines.moveTo(what)
  else asked.value = what
}
</script>

<template>
  <WorkPage :margin="290">
    <SheetFailure v-if="failure" :failure="failure" @again="reload" />
    <template v-else-if="data && settings">
      <ReasonList v-if="action.reasons.value.length && !row" :reasons="action.reasons.value" />
      <CostingHead
        :costing="data"
        :settings="settings"
        :shown="shown"
        :builds="builds"
        :may-change="mayChange"
        @move="move"
        @settings="about = $event"
      />
      <p v-if="circle" class="tone-stop" data-test="costing-circle">
        A part of it contains itself and is not counted: {{ circle }}.
      </p>
      <p v-if="shown?.unclear.length" class="tone-attention" data-test="costing-unclear">
        {{ shown.unclear.length }} {{ shown.unclear.length === 1 ? 'line has' : 'lines have' }} no quantity and
        {{ shown.unclear.length === 1 ? 'is' : 'are' }} not counted: row
        {{
          shown.unclear
            .slice(0, 8)
            .map(at => data!.lines[at]!.row)
            .join(', ')
        }}.
      </p>
      <div class="pair">
        <CostCurve
          v-if="curve"
          :curve="curve"
          :builds="builds"
          :currency="settings.currency"
          @choose="to => keep({ builds: to })"
        />
        <CostDrivers v-if="shown" :shown="shown" :currency="settings.currency" @open="openPart" />
      </div>
      <PartTable v-if="shown" :rows="shown.rows" @open="openPart" @seen="watched = $event" />
      <SettingsDialog
        v-if="about"
        :costing="data"
        :settings="{ ...settings, builds }"
        @close="about = ''"
        @keep="wanted => (keep(wanted), (about = ''))"
      />
      <PartDialog
        v-if="row"
        :key="row.key"
        :costing="data"
        :row="row"
        :own="parts[row.key]"
        :may-change="mayChange"
        :busy="action.busy.value"
        :reasons="action.reasons.value"
        :offers-of="() => worker.offers(at, builds)"
        @close="opened = ''"
        @keep="own => keep({}, { [row!.key]: own })"
        @apart="key => keep({}, { [key]: withoutItem(parts[key]) })"
        @match="itemId => lines.match(row!, itemId)"
        @quantity="(at, quantity, unit) => lines.quantity(at, quantity, unit)"
        @alternate="(itemId, take) => lines.alternate(row!.key, itemId, take)"
      />
      <CostingActs
        v-if="asked"
        :costing="data"
        :version="costing.version.value"
        :asked="asked"
        @close="asked = ''"
        @beside="name => keep({}, undefined, [...beside, { name, settings: { ...settings!, builds } }])"
        @changed="reload"
      />
    </template>
    <template v-if="data && settings" #margin>
      <CostingMargin
        :costing="data"
        :settings="settings"
        :shown="shown"
        :others="others"
        :may-change="mayChange"
        :busy="action.busy.value"
        @open="openPart"
        @act="act"
        @beside="asked = 'beside'"
        @drop="
          name =>
            keep(
              {},
              undefined,
              beside.filter(one => one.name !== name),
            )
        "
        @use="use"
        @changed="reload"
      />
    </template>
  </WorkPage>
</template>
