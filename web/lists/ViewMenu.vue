<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import type { ListPage } from '#contract/fields.ts'
import { ChangeView, DropView, type SavedViewJson } from '#contract/lists/views.ts'
import { api } from '#web/api.ts'
import KeepViewDialog from '#web/lists/KeepViewDialog.vue'
import type { Asked } from '#web/lists/useAsked.ts'
import MenuPopover from '#web/shared/MenuPopover.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, viewLabel } from '#web/shared/words.ts'

/** The name of what a list shows; under it the views that it has, one's own, and those that others share. */
const props = defineProps<{ name: string; list: string; page: ListPage | undefined; asked: Asked }>()
const open = ref(false)
const keeping = ref<'' | 'new' | 'change'>('')
const { busy, reasons, run } = useAction()
const saved = computed(() => props.asked.saved.value)
const title = computed(() => saved.value?.name ?? viewLabel(props.name, props.page?.view ?? 'all'))
const mine = computed(() => props.asked.views.value.filter(one => one.mine))
const others = computed(() => props.asked.views.value.filter(one => !one.mine))
const here = computed(() => props.asked.savedId.value ?? props.page?.view ?? '')
const begins = computed(() => props.asked.start.value === here.value)
const state = computed(() => props.asked.asked.value.state)

function go(act: () => void): void {
  open.value = false
  act()
}
async function write(): Promise<void> {
  const view = saved.value!
  const { name, roles, people, version } = view
  const body = { name, roles, people, version, asked: props.asked.asked.value, columns: [...props.asked.looks.value] }
  const done = await run(() => api(ChangeView, { params: { id: view.id }, body }))
  if (done) {
    await props.asked.reload()
    props.asked.settled()
  }
}
async function drop(view: SavedViewJson): Promise<void> {
  await run(() => api(DropView, { params: { id: view.id } }))
  await props.asked.reload()
  props.asked.set({ saved: undefined })
}
async function kept(id: string): Promise<void> {
  keeping.value = ''
  await props.asked.reload()
  props.asked.settled()
  props.asked.set({ saved: id })
}
</script>

<template>
  <div class="view-menu">
    <MenuPopover v-model:open="open" :width="290" placement="bottom-start" @show="asked.see()">
      <template #button
        ><ElButton link class="view" data-test="view"
          ><h2>{{ title }}</h2>
          <span aria-hidden="true">▾</span><span class="visually-hidden">, change the view</span></ElButton
        ></template
      >
      <ul class="choices">
        <li v-for="view in page?.views" :key="view">
          <ElButton
            link
            :class="{ now: !asked.savedId.value && view === page?.view }"
            :data-test="`view-${view}`"
            @click="go(() => asked.openOwn(view))"
            >{{ viewLabel(name, view) }}</ElButton
          >
        </li>
      </ul>
      <template
        v-for="[heading, some] in [
          ['Kept by you', mine],
          ['Shared with you', others],
        ] as const"
        :key="heading"
        ><template v-if="some.length"
          ><h3>{{ heading }}</h3>
          <ul class="choices">
            <li v-for="view in some" :key="view.id">
              <ElButton
                link
                :class="{ now: view.id === asked.savedId.value }"
                data-test="saved-view"
                @click="go(() => asked.openView(view))"
                >{{ view.name }}</ElButton><span class="quiet">{{
                view.mine ? (view.roles.length + view.people.length > 0 ? 'shared' : '') : view.owner
              }}</span>
            </li>
          </ul></template
        ></template
      >
      <template v-if="page?.states.length"
        ><h3>Only</h3>
        <ul class="choices states">
          <li v-for="one in page.states" :key="one">
            <ElButton
              link
              :class="{ now: one === state }"
              @click="go(() => asked.set({ state: one === state ? undefined : one }))"
              >{{ label('state', one) }}</ElButton
            >
          </li>
        </ul></template
      >
      <p class="keep">
        <ElButton size="small" data-test="keep-view" @click="go(() => (keeping = 'new'))">Keep this as a view</ElButton
        ><ElButton v-if="saved?.mine" size="small" data-test="share-view" @click="go(() => (keeping = 'change'))"
          >Name and share</ElButton
        ><ElButton v-if="saved?.mine" size="small" :disabled="busy" @click="go(() => void drop(saved!))"
          >Drop it</ElButton
        >
      </p>
      <p class="keep">
        <span v-if="begins" class="quiet">You begin with this view.</span
        ><ElButton v-else link data-test="begin-view" @click="go(() => asked.begin(here))"
          >Begin with this view</ElButton
        >
      </p>
    </MenuPopover>
    <span v-if="asked.changed.value" class="changed" data-test="view-changed"
      >changed<template v-if="saved?.mine"
        >: <ElButton link :disabled="busy" data-test="write-view" @click="write">keep the change</ElButton></template
      >
      <ElButton link data-test="reopen-view" @click="asked.openView(saved!)">undo</ElButton></span
    >
    <p v-if="asked.unknown.value" class="unknown" role="status" data-test="view-unknown">
      The view in this address is gone, or is not shared with you. This is the list without it.
    </p>
    <ReasonList :reasons="reasons" />
    <KeepViewDialog
      v-if="keeping"
      :list="list"
      :view="keeping === 'change' ? saved : undefined"
      :asked="asked.asked.value"
      :columns="asked.looks.value"
      @kept="kept"
      @close="keeping = ''"
    />
  </div>
</template>

<style scoped>
.view {
  padding: 0;
  height: auto;
  color: var(--ink);
  text-align: left;
}
.view :deep(> span) {
  display: flex;
  align-items: baseline;
  gap: 7px;
}
.view span {
  color: var(--tide);
}
.choices {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.choices li {
  padding: 2px 0;
  display: flex;
  justify-content: space-between;
  gap: 8px;
}
.choices .now {
  font-weight: 700;
}
.choices.states {
  display: grid;
  grid-template-columns: 1fr 1fr;
}
.keep {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding-top: 8px;
}
.changed,
.unknown {
  font-size: 12px;
  color: var(--brass);
}
</style>
