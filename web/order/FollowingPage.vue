<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElRadio, ElRadioGroup } from 'element-plus'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { AddAside, Following } from '#contract/order/following.ts'
import { api } from '#web/api.ts'
import TogetherDialog from '#web/lists/TogetherDialog.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import SheetFailure from '#web/shared/SheetFailure.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { amountText, day, since, words } from '#web/shared/words.ts'

/** Orders that want a word: why, what was said last, who waits; reminded several at once, a line written down beside each. */
const route = useRoute()
const router = useRouter()
const whose = computed<'mine' | 'all'>({
  get: () => (route.query.whose === 'all' ? 'all' : 'mine'),
  set: value => void router.replace({ query: value === 'all' ? { whose: value } : {} }),
})
const { data, failure, reload } = useRead(
  Following,
  computed(() => ({ query: { whose: whose.value } })),
  { keep: true },
)
const { busy, reasons, run } = useAction()
const chosen = ref<string[]>([])
const reminding = ref(false)
const noting = ref('')
const note = ref('')
const rows = computed(() => data.value?.rows ?? [])
watch(rows, some => {
  const here = new Set(some.map(row => row.id))
  chosen.value = chosen.value.filter(id => here.has(id))
})
const toggle = (id: string, on: boolean): void => {
  chosen.value = on ? [...chosen.value, id] : chosen.value.filter(one => one !== id)
}
const toggleAll = (on: boolean): void => {
  chosen.value = on ? rows.value.map(row => row.id) : []
}
async function keep(): Promise<void> {
  const text = note.value.trim()
  if (text === '') return
  if (!(await run(() => api(AddAside, { params: { id: noting.value }, body: { lineId: null, text } })))) return
  noting.value = note.value = ''
  await reload()
}
const GRAVE = new Set(['follow.late', 'follow.pastPromise'])
const SOURCES = { buyer: '', reminder: 'reminded', supplier: 'says' } as const
</script>

<template>
  <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
  <article v-else class="following">
    <p class="quiet"><RouterLink to="/order">Order</RouterLink></p>
    <h1>Following</h1>
    <div class="bar">
      <ElRadioGroup v-model="whose" aria-label="Whose orders"
        ><ElRadio value="mine">Mine</ElRadio><ElRadio value="all">Everybody’s</ElRadio></ElRadioGroup
      >
      <ElButton type="primary" :disabled="chosen.length === 0" data-test="remind-chosen" @click="reminding = true"
        >Remind {{ chosen.length || '' }}</ElButton
      ><span class="quiet"
        >{{ rows.length }} want a word<template v-if="data?.more">, and {{ data.more }} more</template></span
      >
    </div>
    <ReasonList :reasons="reasons" />
    <LineTable
      v-if="rows.length"
      :rows="rows"
      :columns="
        lineColumns({
          choose: '',
          order: 'Order',
          wants: 'Why',
          '#needBy': 'Needed',
          '#value': 'Worth',
          waits: 'Who waits',
          said: 'Said last',
        })
      "
      label="Orders that want a word"
      :key-of="row => row.id"
      :mark="row => `follow-${row.number}`"
      ><template #head="{ column }"
        ><ElCheckbox
          v-if="column.key === 'choose'"
          :model-value="chosen.length === rows.length"
          :indeterminate="chosen.length > 0 && chosen.length < rows.length"
          aria-label="All"
          @change="toggleAll(Boolean($event))"
        /><template v-else>{{ column.label }}</template></template
      >
      <template #choose="{ row }"
        ><ElCheckbox
          :model-value="chosen.includes(row.id)"
          :aria-label="`Choose ${row.number}`"
          :data-test="`choose-${row.number}`"
          @change="toggle(row.id, Boolean($event))"
      /></template>
      <template #order="{ row }"
        ><RouterLink class="tall" :to="row.path">{{ row.number }}</RouterLink
        ><template v-if="row.revision"> r{{ row.revision }}</template> {{ row.title
        }}<small
          ><RouterLink class="tall" :to="row.supplierPath">{{ row.supplier }}</RouterLink></small
        ></template
      >
      <template #wants="{ row }"
        ><span
          v-for="(one, at) in row.wants"
          :key="one.code"
          class="why"
          :class="{
            'tone-stop': at === 0 && (GRAVE.has(one.code) || one.level === 'stop'),
            'tone-attention': at === 0 && !GRAVE.has(one.code) && one.level !== 'stop',
          }"
          >{{ words(one) }}</span
        ></template
      >
      <template #needBy="{ row }"
        >{{ row.needBy ? day(row.needBy) : '–'
        }}<small v-if="row.promised && row.promised !== row.needBy">promised {{ day(row.promised) }}</small></template
      >
      <template #value="{ row }"
        >{{ amountText(row.value) }} <small class="unit">{{ row.currency }}</small></template
      >
      <template #waits="{ row }">{{ row.waitsFor.join(', ') }}</template>
      <template #said="{ row }"
        ><small v-for="one in row.asides.slice(0, 2)" :key="one.at + one.text"
          >{{ one.source === 'supplier' ? row.supplier : one.by.split(' ')[0] }} {{ SOURCES[one.source]
          }}{{ one.text ? `: ${one.text}` : '' }} <span class="quiet">{{ since(one.at) }}</span></small
        ><span v-if="noting === row.id" class="bar"
          ><ElInput
            v-model="note"
            size="small"
            :aria-label="`What was said about ${row.number}`"
            :data-test="`aside-${row.number}`"
            @keydown.enter="keep"
            @keydown.escape="noting = ''"
          /><ElButton size="small" :disabled="busy" @click="keep">Keep</ElButton></span
        ><ElButton v-else link :data-test="`note-${row.number}`" @click="noting = row.id"
          >write down</ElButton
        ></template
      ></LineTable
    >
    <p v-else-if="data" class="empty">No order wants a word: everything is on its way as it should be.</p>
    <TogetherDialog
      v-if="reminding"
      kind="order"
      act="chase"
      :ids="chosen"
      @done="reload"
      @close="
        () => {
          reminding = false
          chosen = []
        }
      "
    />
  </article>
</template>

<style scoped>
.following {
  padding: 16px 28px 60px;
  background: var(--sheet);
  flex: 1;
  overflow: auto;
}
.why {
  display: block;
}
/* two links one under the other, each high enough to be hit */
.tall {
  display: inline-block;
  line-height: 24px;
}
</style>
