<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import { ref } from 'vue'
import type { OrderForm } from '#web/order/orderForm.ts'
import ChargeRows from '#web/order/ChargeRows.vue'
import ScheduleDialog from '#web/order/ScheduleDialog.vue'
import DayField from '#web/shared/DayField.vue'
import NumberField from '#web/shared/NumberField.vue'
import FormField from '#web/shared/FormField.vue'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { day, quantityText, unit } from '#web/shared/words.ts'

/** An order as it is changed: a draft, or what becomes the next revision. */
defineProps<{ draft: boolean; currency: string; locations: readonly { id: string; label: string }[] }>()
const form = defineModel<OrderForm>({ required: true })
/** The line whose deliveries are being planned. */
const planning = ref<number | null>(null)
</script>

<template>
  <LineTable
    class="section"
    :rows="form.lines"
    :columns="
      lineColumns({
        '-position': 'Position',
        line: 'Line',
        '#quantity': 'Quantity',
        '#price': `Unit price, ${currency}`,
        needBy: 'Needed by',
      })
    "
    label="Lines"
    :key-of="line => line.id"
    ><template #position="{ row: line }"
      ><span class="unit">{{ line.position }}</span></template
    >
    <template #line="{ row: line }"><ElInput v-model="line.description" aria-label="Description" /></template>
    <template #quantity="{ row: line, index }"
      ><span :data-place="`lines.${line.position}.quantity`"
        ><NumberField v-model="line.quantity" label="Quantity" width="100px" :data-test="`quantity-${index}`" /></span
    ></template>
    <template #price="{ row: line, index }"
      ><span :data-place="`lines.${line.position}.price`"
        ><NumberField v-model="line.price" label="Unit price" width="110px" :data-test="`price-${index}`" /></span
    ></template>
    <template #needBy="{ row: line, index }"
      ><span :data-place="`lines.${line.position}.schedule`"
        ><DayField
          v-if="line.schedule.length === 0"
          v-model="line.needBy"
          label="Needed by"
          empty="no day"
          style="width: 150px"
        /><small v-for="(one, at) in line.schedule" v-else :key="at"
          >{{ quantityText(one.quantity) }} {{ unit(line.unit) }} by {{ day(one.date)
          }}{{ one.place ? `, to ${one.place}` : '' }}</small
        ></span
      ><span class="bar acts"
        ><ElButton v-if="line.kind === 'goods'" link :data-test="`schedule-${index}`" @click="planning = index">{{
          line.schedule.length ? 'deliveries' : 'deliveries, place'
        }}</ElButton
        ><ElButton v-if="draft && form.lines.length > 1" link @click="form.lines.splice(index, 1)">take out</ElButton
        ><ElButton
          v-else-if="!draft && line.quantity !== line.done"
          link
          :data-test="`cancel-line-${index}`"
          @click="line.quantity = line.done"
          >{{ line.done === '0' ? 'cancel the line' : 'cancel the rest' }}</ElButton
        ></span
      ></template
    ></LineTable
  >
  <ScheduleDialog
    v-if="planning !== null"
    :line="form.lines[planning]!"
    @change="Object.assign(form.lines[planning]!, $event)"
    @close="planning = null"
  />
  <ElCheckbox
    v-if="!draft && form.lines.some(line => line.quantity === '0')"
    v-model="form.needRemains"
    label="What is cancelled is still needed: it goes back to be bought, its budget is reserved again"
  />
  <div class="below">
    <ChargeRows v-model="form.charges" :currency="currency" />
    <FormField v-if="locations.length > 1" label="Goes to this place of the supplier"
      ><ElSelect
        v-model="form.locationId"
        clearable
        placeholder="the one that usually takes orders"
        data-test="location"
        ><ElOption v-for="one in locations" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
    ></FormField>
    <FormField label="Message to the supplier"><ElInput v-model="form.message" type="textarea" :rows="2" /></FormField>
  </div>
</template>

<style scoped>
.acts {
  gap: 0 12px;
}
.below {
  display: grid;
  gap: 12px;
  margin-top: 14px;
}
</style>
