<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import type { BodyOf } from '#contract/endpoint.ts'
import type { SaveEventKind } from '#contract/source/eventKinds.ts'
import { newKey } from '#web/setup/newKey.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** Named parts of the price, and the texts of a kind of event. */
const settings = defineModel<BodyOf<typeof SaveEventKind>['settings']>({ required: true })
const addPart = (): void =>
  void settings.value.components.push({ key: newKey(), name: '', basis: 'perLine', kind: 'other' })
const addText = (): void =>
  void settings.value.texts.push({
    key: newKey(),
    name: '',
    place: 'head',
    seenBy: 'both',
    writtenBy: 'us',
    carried: false,
    words: { en: '' },
  })
</script>

<template>
  <template v-if="settings.pricing === 'components'">
    <h3>Parts of the price beside the goods</h3>
    <LineTable
      :rows="settings.components"
      :columns="lineColumns({ name: 'Part', basis: 'Given', kind: 'Is', '-acts': 'Acts' })"
      label="Parts of the price"
      :key-of="one => one.key"
      ><template #name="{ row: one, index }"
        ><ElInput v-model="one.name" :aria-label="`Name of part ${index + 1}`" :data-place="`components.${index}.name`"
      /></template>
      <template #basis="{ row: one }"
        ><ElSelect v-model="one.basis" aria-label="Given"
          ><ElOption value="perUnit" label="for each unit" /><ElOption value="perLine" label="for the line" /><ElOption
            value="perLot"
            label="for the lot" /></ElSelect
      ></template>
      <template #kind="{ row: one }"
        ><ElSelect v-model="one.kind" aria-label="Is"
          ><ElOption value="freight" label="freight" /><ElOption value="other" label="something else" /></ElSelect
      ></template>
      <template #acts="{ index }"
        ><ElButton link @click="settings.components.splice(index, 1)">take out</ElButton></template
      ></LineTable
    >
    <p class="bar"><ElButton link data-test="add-part" @click="addPart">Add a part</ElButton></p>
  </template>
  <h3>Texts</h3>
  <LineTable
    v-if="settings.texts.length"
    :rows="settings.texts"
    :columns="
      lineColumns({
        name: 'Text',
        place: 'Where',
        seenBy: 'Seen by',
        writtenBy: 'Written by',
        carried: 'On the order',
        words: 'Begins as',
        '-acts': 'Acts',
      })
    "
    label="Texts"
    :key-of="one => one.key"
    ><template #name="{ row: one, index }"
      ><ElInput v-model="one.name" :aria-label="`Name of text ${index + 1}`" :data-place="`texts.${index}.name`"
    /></template>
    <template #place="{ row: one }"
      ><ElSelect v-model="one.place" aria-label="Where"
        ><ElOption value="head" label="above" /><ElOption value="line" label="each line" /></ElSelect
    ></template>
    <template #seenBy="{ row: one }"
      ><ElSelect v-model="one.seenBy" aria-label="Seen by"
        ><ElOption value="us" label="us" /><ElOption value="suppliers" label="suppliers" /><ElOption
          value="both"
          label="both" /></ElSelect
    ></template>
    <template #writtenBy="{ row: one }"
      ><ElSelect v-model="one.writtenBy" aria-label="Written by"
        ><ElOption value="us" label="us" /><ElOption value="suppliers" label="suppliers" /></ElSelect
    ></template>
    <template #carried="{ row: one }"><ElCheckbox v-model="one.carried" aria-label="On the order" /></template>
    <template #words="{ row: one }"
      ><ElInput v-model="one.words.en" placeholder="English" aria-label="In English" /><ElInput
        v-model="one.words.de"
        placeholder="German"
        aria-label="In German"
    /></template>
    <template #acts="{ index }"
      ><ElButton link @click="settings.texts.splice(index, 1)">take out</ElButton></template
    ></LineTable
  >
  <p class="bar"><ElButton link data-test="add-text" @click="addText">Add a text</ElButton></p>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
}
.el-select {
  min-width: 106px;
}
.el-button {
  white-space: nowrap;
}
</style>
