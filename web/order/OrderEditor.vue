<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import type { OrderForm } from '#web/order/orderForm.ts'
import DayField from '#web/shared/DayField.vue'
import NumberField from '#web/shared/NumberField.vue'
import FormField from '#web/shared/FormField.vue'

/** An order as it is changed: a draft, or what becomes the next revision. */
defineProps<{ draft: boolean; currency: string }>()
const form = defineModel<OrderForm>({ required: true })
</script>

<template>
  <table class="lines section">
    <thead>
      <tr>
        <th><span class="visually-hidden">Position</span></th>
        <th>Line</th>
        <th class="num">Quantity</th>
        <th class="num">Unit price</th>
        <th class="num">Amount, {{ currency }}</th>
        <th>Needed by</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(line, index) in form.lines" :key="line.id">
        <td class="unit">{{ line.position }}</td>
        <td><ElInput v-model="line.description" aria-label="Description" /></td>
        <td :data-place="`lines.${line.position}.quantity`">
          <NumberField v-model="line.quantity" label="Quantity" width="100px" :data-test="`quantity-${index}`" />
        </td>
        <td :data-place="`lines.${line.position}.price`">
          <NumberField v-model="line.price" label="Unit price" width="110px" :data-test="`price-${index}`" />
        </td>
        <td />
        <td>
          <DayField v-model="line.needBy" label="Needed by" empty="no day" /><ElButton
            link
            v-if="draft && form.lines.length > 1"
            @click="form.lines.splice(index, 1)"
          >
            take out
          </ElButton>
        </td>
      </tr>
      <tr>
        <td />
        <td colspan="3">Freight and charges</td>
        <td data-place="charges">
          <NumberField v-model="form.charges" label="Charges" width="110px" data-test="charges" />
        </td>
        <td />
      </tr>
      <tr>
        <td />
        <td colspan="5">
          <FormField label="Message to the supplier"
            ><ElInput v-model="form.message" type="textarea" :rows="2"
          /></FormField>
        </td>
      </tr>
    </tbody>
  </table>
</template>
