<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { ItemJson } from '#contract/request/catalogue.ts'
import { SetPicture } from '#contract/request/keeping.ts'
import { api, upload } from '#web/api.ts'
import { pictureSource } from '#web/request/itemPicture.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { smallerPicture } from '#web/shared/smallerPicture.ts'
import { useAction } from '#web/shared/useAction.ts'
import { day, quantityText, unit } from '#web/shared/words.ts'

/** What an item is; who keeps the catalogue changes it here. */
const props = defineProps<{ item: ItemJson; keeping: boolean }>()
const emit = defineEmits<{ edit: [what: 'item' | 'itemCopy']; changed: [] }>()
const { busy, reasons, run } = useAction()
const facts = computed(() =>
  [
    props.item.gtin && `GTIN ${props.item.gtin}`,
    props.item.maker && `made by ${props.item.maker}${props.item.makerNumber ? `, ${props.item.makerNumber}` : ''}`,
    props.item.alsoCalled && `also called ${props.item.alsoCalled}`,
    props.item.stocked && 'stocked',
    props.item.certified && 'with certificate',
  ].filter(Boolean),
)
async function picture([file]: readonly (File | undefined)[]): Promise<void> {
  const done = await run(async () => {
    const fileId = file ? (await upload(await smallerPicture(file))).id : null
    return await api(SetPicture, { params: { id: props.item.id }, body: { fileId, version: props.item.version } })
  })
  if (done) emit('changed')
}
</script>

<template>
  <header class="item-head">
    <img v-if="item.picture" :src="pictureSource(item.picture)" alt="" width="150" height="150" />
    <p class="quiet">Item {{ item.number }}, {{ item.category }}</p>
    <h1>{{ item.name }}</h1>
    <p>{{ item.description }}</p>
    <p class="quiet">{{ facts.join('; ') }}</p>
    <p class="quiet">
      Counted in {{ unit(item.unit)
      }}<template v-for="pack in item.packs" :key="pack.unit"
        >; a {{ unit(pack.unit) }} holds {{ quantityText(pack.holds) }}</template
      >
    </p>
    <p v-if="keeping" class="bar keep">
      <ElButton data-test="change-item" @click="emit('edit', 'item')">Change</ElButton
      ><ElButton @click="emit('edit', 'itemCopy')">Copy</ElButton
      ><FileField
        :label="item.picture ? 'Another picture' : 'Give it a picture'"
        accept="image/png,image/jpeg,image/webp"
        mark="item-picture"
        :busy="busy"
        @choose="picture"
      /><ElButton v-if="item.picture" link :disabled="busy" @click="picture([undefined])"
        >Take the picture away</ElButton
      >
    </p>
    <ReasonList :reasons="reasons" />
    <p v-if="item.discontinuedOn" class="reasons check">
      Discontinued {{ day(item.discontinuedOn) }}.<template v-if="item.replacedBy">
        <RouterLink :to="{ path: `/request/catalogue/${item.replacedBy.id}`, query: $route.query }"
          >{{ item.replacedBy.name }} ({{ item.replacedBy.number }})</RouterLink
        >
        takes its place.</template
      >
    </p>
  </header>
</template>

<style scoped>
img {
  float: right;
  border: 1px solid var(--rule);
  background: var(--sheet);
  margin: 0 0 12px 16px;
  object-fit: contain;
}
.keep {
  margin-top: 10px;
}
@media (max-width: 700px) {
  img {
    width: 90px;
    height: 90px;
  }
}
</style>
