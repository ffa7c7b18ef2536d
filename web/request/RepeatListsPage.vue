<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { EndRepeatList, RepeatLists, SaveRepeatList, UseRepeatList } from '#contract/request/catalogue.ts'
import { api } from '#web/api.ts'
import BasketPane from '#web/request/BasketPane.vue'
import { useBasket } from '#web/request/basket.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, since, unit } from '#web/shared/words.ts'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** Lists to ask for again: one's own and those that colleagues share. */
type List = ResponseOf<typeof RepeatLists>['lists'][number]
const router = useRouter()
const basket = useBasket()
const { busy, reasons, run } = useAction()
const lists = shallowRef<List[]>([])
const people = shallowRef<{ id: string; name: string }[]>([])
const openId = ref('')
const edited = reactive<{ name: string; sharedWith: string[]; sharedWithAll: boolean; lines: List['lines'] }>({
  name: '',
  sharedWith: [],
  sharedWithAll: false,
  lines: [],
})
const left = ref<readonly string[]>([])
const open = computed(() => lists.value.find(list => list.id === openId.value))
const changed = computed(
  () =>
    open.value !== undefined &&
    JSON.stringify(edited) !==
      JSON.stringify({
        name: open.value.name,
        sharedWith: open.value.sharedWith,
        sharedWithAll: open.value.sharedWithAll,
        lines: open.value.lines,
      }),
)

async function load(): Promise<void> {
  const answer = await api(RepeatLists)
  lists.value = answer.lists
  people.value = answer.people
  look(open.value ?? answer.lists[0])
}
function look(list: List | undefined): void {
  openId.value = list?.id ?? ''
  if (list)
    Object.assign(
      edited,
      JSON.parse(
        JSON.stringify({
          name: list.name,
          sharedWith: list.sharedWith,
          sharedWithAll: list.sharedWithAll,
          lines: list.lines,
        }),
      ) as object,
    )
}
onMounted(load)
const setQuantity = (index: number, quantity: string): void =>
  void edited.lines.splice(index, 1, { ...edited.lines[index]!, quantity })
async function save(): Promise<void> {
  const list = open.value!
  if (await run(() => api(SaveRepeatList, { body: { ...edited, id: list.id, version: list.version } }))) await load()
}
async function end(): Promise<void> {
  const list = open.value!
  if (await run(() => api(EndRepeatList, { params: { id: list.id }, body: { version: list.version } }))) {
    openId.value = ''
    await load()
  }
}
async function use(to: 'request' | 'basket'): Promise<void> {
  const done = await run(() => api(UseRepeatList, { params: { id: openId.value }, body: { to } }))
  if (!done) return
  left.value = done.left
  if (done.id) await router.push(`/request/${done.id}`)
  else await basket.load()
}
</script>

<template>
  <div class="lists">
    <nav aria-label="Repeat lists">
      <p class="bar">
        <RouterLink to="/request" class="quiet">Requests</RouterLink
        ><RouterLink to="/request/catalogue" class="quiet">Catalogue</RouterLink>
      </p>
      <h1>Repeat lists</h1>
      <p v-if="lists.length === 0" class="empty">
        Keep a basket or a request as a list, and ask for it again with one click.
      </p>
      <ul>
        <li v-for="list in lists" :key="list.id">
          <ElButton
            link
            class="row"
            :class="{ on: list.id === openId }"
            :data-test="`list-${list.name}`"
            @click="look(list)"
          >
            <b>{{ list.name }}</b><span class="quiet"
              >{{ list.lines.length }} {{ list.lines.length === 1 ? 'line' : 'lines'
              }}{{
                list.mine
                  ? list.sharedWithAll
                    ? ', shared with all'
                    : list.sharedWith.length
                      ? `, shared with ${list.sharedWith.length}`
                      : ''
                  : `, of ${list.owner}`
              }}{{ list.usedAt ? `, used ${since(list.usedAt)}` : '' }}</span
            >
          </ElButton>
        </li>
      </ul>
    </nav>
    <article v-if="open" class="sheet">
      <div class="bar">
        <ElInput v-if="open.mine" v-model="edited.name" aria-label="Name of the list" maxlength="200" class="name" />
        <h2 v-else>{{ open.name }}</h2>
      </div>
      <p class="bar acts">
        <ElButton type="primary" :disabled="busy || changed" data-primary data-test="use-list" @click="use('request')"
          >Ask for it again<kbd class="hint">Ctrl ↵</kbd></ElButton
        ><ElButton :disabled="busy || changed" data-test="list-to-basket" @click="use('basket')"
          >Put it into the basket</ElButton
        ><ElButton
          v-if="changed && open.mine"
          type="primary"
          :disabled="busy || !edited.name.trim()"
          data-test="save-list"
          @click="save"
          >Save the list</ElButton
        ><ElButton link v-if="open.mine" :disabled="busy" @click="end">end this list</ElButton>
      </p>
      <ReasonList :reasons="reasons" />
      <p v-if="left.length" class="reasons check">No longer offered, and left out: {{ left.join(', ') }}.</p>
      <LineTable
        :rows="edited.lines"
        :columns="lineColumns({ what: 'What', '#quantity': 'Quantity', '-unit': 'Unit', acts: '' })"
        label="Lines"
        ><template #what="{ row: line }"
          >{{ line.description
          }}<small v-if="line.kind !== 'goods' || line.category">{{
            [line.kind === 'goods' ? '' : label('kind', line.kind), line.category].filter(Boolean).join(', ')
          }}</small></template
        >
        <template #quantity="{ row: line, index }"
          ><NumberField
            v-if="open.mine"
            :model-value="line.quantity"
            :label="`Quantity of ${line.description}`"
            width="90px"
            @update:model-value="setQuantity(index, $event)"
          /><template v-else>{{ line.quantity }}</template></template
        >
        <template #unit="{ row: line }"
          ><span class="unit">{{ unit(line.unit) }}</span></template
        >
        <template #acts="{ index }"
          ><ElButton link v-if="open.mine" @click="edited.lines.splice(index, 1)"> take out </ElButton></template
        ></LineTable
      >
      <section v-if="open.mine" class="section">
        <h2>Shared</h2>
        <ElCheckbox v-model="edited.sharedWithAll" label="with all colleagues" data-test="share-all" /><FormField
          label="with"
          v-if="!edited.sharedWithAll"
          class="share"
          ><ElSelect v-model="edited.sharedWith" multiple filterable default-first-option placeholder="nobody"
            ><ElOption v-for="one in people" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
        ></FormField>
      </section>
    </article>
    <BasketPane class="side" />
  </div>
</template>

<style scoped>
.lists {
  flex: 1;
  display: flex;
  min-height: 0;
}
nav {
  flex: 0 0 290px;
  padding: 16px 22px;
  overflow: auto;
}
ul {
  list-style: none;
  padding: 0;
  margin: 10px 0;
}
.row {
  display: flex;
  flex-direction: column;
  width: 100%;
  padding: 7px 8px;
  white-space: normal;
  color: var(--ink);
  border-top: 1px solid var(--rule-light);
}
.row.on {
  background: var(--sheet);
  box-shadow: inset 3px 0 0 var(--tide);
}
.sheet {
  flex: 1;
  background: var(--sheet);
  border-left: 1px solid var(--rule);
  padding: 20px 28px 50px;
  overflow: auto;
}
.side {
  flex: 0 0 250px;
}
.acts {
  margin: 10px 0 16px;
}
.name {
  max-width: 420px;
}
.hint {
  margin-left: 8px;
  border: 0;
}
.share {
  max-width: 420px;
  margin-top: 6px;
}
@media (max-width: 700px) {
  .lists {
    flex-direction: column;
    overflow: auto;
  }
  nav,
  .sheet,
  .side {
    flex: none;
    overflow: visible;
    border-left: 0;
    padding: 14px 16px;
  }
}
</style>
