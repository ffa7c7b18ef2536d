<script setup lang="ts">
import { ElInput, ElOption, ElSelect } from 'element-plus'
import DayField from '#web/shared/DayField.vue'
import FormField from '#web/shared/FormField.vue'
import { laterLabel } from '#web/shared/laterWords.ts'
import { TOLD_BY } from '#core/source/invitedActs.ts'
import type { Told } from '#web/shared/told.ts'

/** Who told us what is typed in here, when and how. */
const told = defineModel<Told>({ required: true })
defineProps<{ who: string }>()
</script>

<template>
  <FormField :label="who" place="who"><ElInput v-model="told.who" data-test="told-who" /></FormField>
  <FormField label="When" place="on"><DayField v-model="told.on" label="When" /></FormField>
  <FormField label="How"
    ><ElSelect v-model="told.how" aria-label="How"
      ><ElOption v-for="one in TOLD_BY" :key="one" :value="one" :label="laterLabel('consent by', one)" /></ElSelect
  ></FormField>
</template>
