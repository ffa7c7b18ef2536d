<script setup lang="ts">
import { ElButton, ElDialog } from 'element-plus'
import { computed, ref, shallowRef, watch } from 'vue'
import type { CostingRow } from '#core/build/costingRows.ts'
import { lineName, partKey } from '#core/build/partsList.ts'
import type { OfferOfPart } from '#core/build/offersOfPart.ts'
import ItemPick from '#web/build/ItemPick.vue'
import PartLimits from '#web/build/PartLimits.vue'
import PartLines from '#web/build/PartLines.vue'
import PartOffers from '#web/build/PartOffers.vue'
import type { Costing, Parts } from '#web/build/useCosting.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { words } from '#web/shared/words.ts'
import type { ReasonJson } from '#contract/fields.ts'

/** One part: what it is, who offers it at what, what may take its place, and what is said for it alone. */
const props = defineProps<{
  costing: Costing
  row: CostingRow
  own: Parts[string] | undefined
  mayChange: boolean
  busy: boolean
  reasons: readonly ReasonJson[]
  offersOf: () => Promise<OfferOfPart[]>
}>()
const emit = defineEmits<{
  close: []
  keep: [own: Parts[string]]
  apart: [key: string]
  match: [itemId: string | null]
  quantity: [position: number, quantity: string, unit: string]
  alternate: [itemId: string, take: boolean]
}>()
type Own = Parts[string]
const offers = shallowRef<readonly OfferOfPart[]>([])
const load = async (): Promise<void> => void (offers.value = await props.offersOf())
watch(() => props.row, load, { immediate: true })
const itemId = ref('')
const alternate = ref('')
const lines = computed(() => props.row.lines.map(at => ({ at, line: props.costing.lines[at]! })))
const first = computed(() => lines.value[0]!.line)
const isAssembly = computed(() => props.costing.lines.some(line => props.row.lines.includes(line.parent ?? -1)))
/** Parts of the list that are bought together with it because it was taken in their place. */
const joined = computed(() =>
  [...new Set(lines.value.map(one => partKey(one.line)))].filter(key => key !== props.row.key),
)
const nameOf = (key: string): string => lineName(lines.value.find(one => partKey(one.line) === key)!.line)
const itemOf = (id: string): string => props.costing.known.items.find(one => one.id === id)?.name ?? ''
const alternates = computed(() => props.own?.alternates ?? [])
/** The item that takes the place of one that is not made any more. */
const after = computed(() => {
  const own = props.costing.known.items.find(one => one.id === first.value.itemId)
  return own?.discontinued && own.replacedBy && props.own?.itemId !== own.replacedBy ? own.replacedBy : null
})
function change(more: Own): void {
  const merged: Record<string, unknown> = { ...props.own, ...more }
  for (const key of Object.keys(merged)) if (merged[key] === undefined) delete merged[key]
  emit('keep', merged as Own)
}
/** An offer of what may take a part's place is chosen together with that item. */
const choose = (offer: OfferOfPart | undefined): void =>
  change({
    offerId: offer?.offerId,
    ...(offer && offer.itemId !== (props.own?.itemId ?? first.value.itemId) ? { itemId: offer.itemId } : {}),
  })
</script>

<template>
  <ElDialog
    :model-value="true"
    :title="row.name"
    width="820"
    append-to-body
    data-test="part-dialog"
    @closed="emit('close')"
  >
    <ReasonList :reasons="reasons" />
    <ul v-if="row.notes.length" class="notes" data-test="part-notes">
      <li
        v-for="one in row.notes"
        :key="one.code"
        :class="one.level === 'stop' ? 'tone-stop' : one.level === 'check' ? 'tone-attention' : 'quiet'"
      >
        {{ words(one) }}
        <ElButton
          v-if="one.code === 'build.alternateCheaper' && mayChange"
          link
          data-test="take-alternate"
          @click="change({ itemId: one.place })"
          >take it</ElButton
        ><ElButton v-if="one.code === 'build.handGone' && mayChange" link @click="change({ offerId: undefined })"
          >let it go</ElButton
        >
      </li>
    </ul>
    <p v-if="after && mayChange">
      <ElButton type="primary" data-test="take-replacement" :disabled="busy" @click="emit('match', after)"
        >Take {{ itemOf(after) }}</ElButton
      >
    </p>
    <PartLines
      :lines="lines"
      :may-change="mayChange"
      @quantity="(at, quantity, unit) => emit('quantity', at, quantity, unit)"
    />
    <p v-for="key in joined" :key="key">
      Taken in place of {{ nameOf(key) }}.
      <ElButton v-if="mayChange" link :disabled="busy" @click="emit('apart', key)">take that again</ElButton>
    </p>
    <section v-if="!first.itemId || mayChange" class="section">
      <h3>
        {{ first.itemId ? 'It is' : 'What is it?' }}
        <b v-if="first.itemId">{{ itemOf(own?.itemId ?? first.itemId) }}</b>
      </h3>
      <p v-for="one in first.offered" :key="one.itemId" class="offered">
        <ElButton
          link
          :disabled="busy || !mayChange"
          :data-test="`offered-${one.number}`"
          @click="emit('match', one.itemId)"
          >{{ one.name }} {{ one.number }}</ElButton
        >
        <span class="quiet"
          >{{ one.likeness }} % alike: {{ one.reasons.map(reason => laterLabel('match', reason)).join(', ') }}</span
        >
      </p>
      <p v-if="mayChange" class="bar">
        <ItemPick
          v-model="itemId"
          label="Another item"
          :words="first.description"
          mark="match-item"
          class="pick"
        /><ElButton :disabled="busy || itemId === ''" data-test="match-it" @click="emit('match', itemId)"
          >That is it</ElButton
        ><ElButton v-if="own?.itemId" link @click="change({ itemId: undefined })">its own item again</ElButton
        ><ElButton v-if="first.itemId" link data-test="unmatch" @click="emit('match', null)">no item</ElButton>
      </p>
    </section>
    <PartOffers v-if="offers.length" :offers="offers" :chosen="own?.offerId" :may-change="mayChange" @choose="choose" />
    <section v-if="mayChange" class="section">
      <h3>What may take its place <small class="quiet">approved, the first preferred</small></h3>
      <p v-for="id in alternates" :key="id" class="offered">
        {{ itemOf(id) }}
        <ElButton link :disabled="busy" @click="change({ itemId: own?.itemId === id ? undefined : id })">{{
          own?.itemId === id ? 'is taken; take the first again' : 'take it'
        }}</ElButton>
        <ElButton link :disabled="busy" @click="change({ alternates: alternates.filter(one => one !== id) })"
          >not any more</ElButton
        >
      </p>
      <p class="bar">
        <ItemPick v-model="alternate" label="An alternate" mark="alternate-item" class="pick" /><ElButton
          :disabled="busy || alternate === ''"
          data-test="add-alternate"
          @click="emit('alternate', alternate, false)"
          >Approve it</ElButton
        >
      </p>
    </section>
    <PartLimits v-if="mayChange" :costing="costing" :own="own" :assembly="isAssembly" :busy="busy" @change="change" />
  </ElDialog>
</template>

<style scoped>
.notes {
  list-style: none;
  padding: 0;
  margin: 0 0 8px;
}
.offered {
  margin: 2px 0;
}
.offered .el-button + .el-button {
  margin-left: 12px;
}
.pick {
  width: 300px;
}
</style>
