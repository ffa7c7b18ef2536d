<script setup lang="ts">
import { ElButton, ElOption, ElPopover, ElSelect } from 'element-plus'
import { scaleSqrt } from 'd3-scale'
import { computed, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadExpected, SetUnloader } from '#contract/receive/despatch.ts'
import { addDays } from '#core/calendar/days.ts'
import WorkPage from '#web/frame/WorkPage.vue'
import { api } from '#web/api.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { day } from '#web/shared/words.ts'

/** What comes where on which day, dock by dock: what is announced stands out; who unloads is said here. */
type Coming = ResponseOf<typeof ReadExpected>['coming'][number]
const from = ref<string>()
const { data, reload } = useRead(ReadExpected, () => ({ query: from.value ? { from: from.value } : {} }), {
  keep: true,
})
const { run } = useAction()
const WEEK = 7
const weeks = computed(() => {
  const days = data.value?.days ?? []
  return Array.from({ length: Math.ceil(days.length / WEEK) }, (_, index) =>
    days.slice(index * WEEK, (index + 1) * WEEK),
  )
})
const at = (dock: string | null, when: string): Coming[] =>
  (data.value?.coming ?? []).filter(one => one.dockId === dock && one.day === when)
const most = computed(() =>
  Math.max(
    1,
    ...(data.value?.days ?? []).flatMap(one => (data.value?.docks ?? []).map(dock => at(dock.id, one.day).length)),
  ),
)
const size = computed(() => scaleSqrt([0, most.value], [0, 11]))
const move = (weeksOn: number): void => {
  from.value = addDays(data.value!.from, weeksOn * WEEK)
}
async function unload(one: Coming, personId: string | null): Promise<void> {
  if (await run(() => api(SetUnloader, { params: { id: one.despatchId! }, body: { personId } }))) await reload()
}
const short = (when: string): string => day(when).replace(/ \d{4}$/, '')
</script>

<template>
  <WorkPage :margin="0"
    ><h1>Expected by dock and day</h1>
    <template v-if="data"
      ><p class="bar">
        <ElButton @click="move(-1)">A week back</ElButton><ElButton @click="move(1)">A week on</ElButton
        ><RouterLink to="/receive">The list</RouterLink>
        <span class="quiet">A ring is expected, a full dot announced; its size is how many.</span>
      </p>
      <p v-if="data.coming.length === 0">Nothing comes in these weeks.</p>
      <table v-for="week in weeks" v-else :key="week[0]!.day" class="week" data-test="week">
        <thead>
          <tr>
            <th scope="col">Dock</th>
            <th
              v-for="one in week"
              :key="one.day"
              scope="col"
              :class="{ rests: one.rests, now: one.day === data.today }"
            >
              {{ short(one.day) }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="dock in data.docks" :key="dock.id ?? ''">
            <th scope="row">{{ dock.label || 'no dock said' }}</th>
            <td v-for="one in week" :key="one.day" :class="{ rests: one.rests, now: one.day === data.today }">
              <ElPopover v-if="at(dock.id, one.day).length" trigger="click" width="320"
                ><template #reference
                  ><ElButton text :aria-label="`${at(dock.id, one.day).length} on ${day(one.day)}`" data-test="cell"
                    ><svg width="26" height="26" aria-hidden="true">
                      <circle
                        cx="13"
                        cy="13"
                        :r="Math.max(4, size(at(dock.id, one.day).length))"
                        :class="{
                          announced: at(dock.id, one.day).some(each => each.despatchId),
                          late: at(dock.id, one.day).some(each => each.late),
                        }"
                      /></svg
                    >{{ at(dock.id, one.day).length }}</ElButton
                  ></template
                >
                <div v-for="each in at(dock.id, one.day)" :key="each.orderId + (each.despatchId ?? '')" class="coming">
                  <RouterLink :to="`/receive/${each.orderId}`">{{ each.number }}</RouterLink>, {{ each.supplier
                  }}<small
                    >{{ each.what }}<template v-if="each.packages"> · {{ each.packages }} packages</template
                    ><template v-if="each.late"> · should have come</template></small
                  ><ElSelect
                    v-if="each.despatchId && data.mayPlan"
                    :model-value="each.unloaderId"
                    clearable
                    :value-on-clear="null"
                    filterable
                    default-first-option
                    placeholder="Who unloads"
                    aria-label="Who unloads"
                    @update:model-value="unload(each, $event)"
                    ><ElOption
                      v-for="one_ in data.people"
                      :key="one_.id"
                      :value="one_.id"
                      :label="one_.label" /></ElSelect
                  ><small v-else-if="each.unloader">{{ each.unloader }} unloads</small>
                </div></ElPopover
              >
            </td>
          </tr>
        </tbody>
      </table></template
    >
  </WorkPage>
</template>

<style scoped>
.week {
  width: 100%;
  border-collapse: collapse;
  margin-top: 14px;
  table-layout: fixed;
}
th,
td {
  border-bottom: 1px solid var(--rule);
  text-align: left;
  padding: 4px 6px;
  font-weight: 400;
  height: 36px;
}
thead th {
  color: var(--ink-quiet);
}
.rests {
  background: #f1ead9;
}
.now {
  background: #fbf7ee;
  font-weight: 600;
}
circle {
  fill: none;
  stroke: var(--tide);
  stroke-width: 1.5;
}
circle.announced {
  fill: var(--tide);
}
circle.late {
  stroke: var(--madder);
}
.coming {
  padding: 4px 0;
}
small {
  display: block;
}
small,
.quiet {
  color: var(--ink-quiet);
}
</style>
