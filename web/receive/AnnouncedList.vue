<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import { DeliveryFile, DespatchUbl } from '#contract/receive/despatch.ts'
import type { ReadDelivery } from '#contract/receive/endpoints.ts'
import { pathOf } from '#web/api.ts'
import { day } from '#web/shared/words.ts'

/** What the supplier announced: with one press all of it stands in the count, and only what differs is changed. */
type Announced = ResponseOf<typeof ReadDelivery>['announced'][number]
defineProps<{ orderId: string; announced: readonly Announced[]; mine: boolean }>()
const emit = defineEmits<{ take: [Announced] }>()
</script>

<template>
  <div v-for="one in announced" :key="one.id" class="announced" data-test="announced">
    <span
      ><b>Announced</b> {{ one.number || one.ours }}, arrives {{ day(one.arrivesOn)
      }}<template v-if="one.carrier">, {{ one.carrier }} {{ one.tracking }}</template
      ><template v-if="one.packages.length"
        >, {{ one.packages.length }} {{ one.packages.length === 1 ? 'package' : 'packages' }}</template
      ><template v-for="file in one.files" :key="file.id"
        >,
        <a :href="pathOf(DeliveryFile, { id: orderId, fileId: file.id })" target="_blank" class="file">{{
          file.name
        }}</a></template
      ></span
    >
    <span
      ><ElButton v-if="mine" :data-test="`take-${one.ours}`" @click="emit('take', one)">It came as announced</ElButton
      ><a :href="pathOf(DespatchUbl, { id: one.id })" download>UBL</a></span
    >
  </div>
</template>

<style scoped>
.announced {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  flex-wrap: wrap;
  margin-top: 10px;
  border-left: 3px solid var(--tide);
  padding-left: 10px;
}
a:not(.file) {
  margin-left: 10px;
}
</style>
