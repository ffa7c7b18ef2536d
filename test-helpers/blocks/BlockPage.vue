<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { reactive, ref, shallowRef } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import DayField from '#web/shared/DayField.vue'
import EntryForm from '#web/shared/EntryForm.vue'
import FileField from '#web/shared/FileField.vue'
import FormField from '#web/shared/FormField.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import LineTable from '#web/shared/LineTable.vue'
import MenuPopover from '#web/shared/MenuPopover.vue'
import NumberField from '#web/shared/NumberField.vue'

/** The blocks that every screen is made of, each with what it says when it is used. */
const said = ref<string[]>([])
const say = (what: string): void => void said.value.push(what)
const fault = (place: string, code: string): ReasonJson => ({ place, code, level: 'stop', details: {} })
const reasons = shallowRef<readonly ReasonJson[]>([])
const form = reactive({ name: '', number: '' })
const quantity = ref('1')
const day = ref<string | null>('2026-12-04')
const open = ref(false)
const rows = [
  { id: 'a', name: 'Valve', price: '12.50', by: 'Ada' },
  { id: 'b', name: 'Pump', price: '2 190.00', by: 'Dan' },
]
const width = ref(600)
</script>

<template>
  <main style="padding: 20px">
    <EntryForm :reasons="reasons" data-test="form" @submit="say('submit')">
      <FormField label="Name" place="name" help="As it stands on the label."
        ><ElInput v-model="form.name" data-test="name" /></FormField
      ><FormField label="Number" place="number"><ElInput v-model="form.number" data-test="number" /></FormField>
      <template #acts
        ><ElButton native-type="submit" data-test="submit">Keep it</ElButton
        ><ElButton data-test="one-fault" @click="reasons = [fault('name', 'item.needsName')]">one</ElButton
        ><ElButton
          data-test="two-faults"
          @click="reasons = [fault('name', 'item.needsName'), fault('number', 'item.needsNumber')]"
          >two</ElButton
        ><ElButton data-test="other-fault" @click="reasons = [fault('elsewhere', 'item.category')]"
          >other</ElButton
        ></template
      >
    </EntryForm>
    <NumberField v-model="quantity" label="Quantity" data-test="quantity" /><output data-test="quantity-is">{{
      quantity
    }}</output>
    <DayField v-model="day" label="Needed by" empty="no day" mark="day" /><output data-test="day-is">{{ day }}</output>
    <FileField
      label="Choose files"
      multiple
      mark="files"
      @choose="say(`files ${$event.map(one => one.name).join(' ')}`)"
    />
    <ElButton data-test="act" @click="open = true">Act</ElButton>
    <ActDialog
      :open="open"
      title="Take it back"
      what="Nothing of it stays."
      button="Take it back"
      typed="O-4001"
      :busy="false"
      :reasons="[]"
      @close="open = false"
      @go="say(`go ${$event}`)"
    />
    <MenuPopover
      ><template #button><ElButton data-test="menu">Menu</ElButton></template
      ><ElButton data-test="in-menu">Inside</ElButton></MenuPopover
    >
    <div :style="{ width: `${width}px` }">
      <LineTable
        :rows="rows"
        :columns="lineColumns({ '!-name': 'Name', '#price': 'Price, EUR', '~by': 'By' })"
        label="Parts"
        :key-of="row => row.id"
        :mark="row => `part-${row.id}`"
        :off="row => row.id === 'a'"
        :now="row => row.id === 'b'"
        :sums="[{ key: 'all', cells: { name: 'In all', price: '2 202.50' }, total: true, mark: 'sum' }]"
        ><template #name="{ row }">{{ row.name }}</template
        ><template #price="{ row }"
          ><span class="wide">{{ row.price }}</span></template
        ><template #cell="{ row, column }">{{ column.label }} {{ row.by }}</template></LineTable
      >
    </div>
    <ElButton data-test="narrow" @click="width = 60">narrow</ElButton>
    <output data-test="said">{{ said.join('; ') }}</output>
  </main>
</template>
