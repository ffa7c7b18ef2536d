<script setup lang="ts">
import { ElDialog } from 'element-plus'
import { onBeforeUnmount, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { SearchCatalogue } from '#contract/request/catalogue.ts'
import { api } from '#web/api.ts'
import { pictureSource } from '#web/request/itemPicture.ts'
import { type AlikeItem, mostAlike, readBarcode } from '#web/request/usePictures.ts'

/** Finds items by a photo, a drawing or a barcode. Everything is computed on this machine; the picture is not sent anywhere. */
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const shown = ref('')
const state = ref('')
const fault = ref('')
const found = shallowRef<readonly AlikeItem[]>([])
const left = ref(0)

async function look(file: File | undefined): Promise<void> {
  if (!file) return
  fault.value = ''
  found.value = []
  if (!file.type.startsWith('image/')) {
    fault.value = `“${file.name}” is no picture. Take a photo, or a PNG, JPEG, WebP or SVG file.`
    return
  }
  if (shown.value) URL.revokeObjectURL(shown.value)
  shown.value = URL.createObjectURL(file)
  state.value = 'Looking for a barcode'
  try {
    const code = await readBarcode(shown.value)
    const exact = code ? (await api(SearchCatalogue, { query: { q: code.slice(0, 100) } })).exact : null
    if (exact) {
      emit('close')
      await router.push({ path: `/request/catalogue/${exact}`, query: { q: code } })
      return
    }
    state.value = 'Comparing pictures'
    const answer = await mostAlike(shown.value, (done, of) => {
      state.value = `Looking at the catalogue’s pictures, ${done} of ${of}`
    })
    found.value = answer.items
    left.value = answer.left
    if (code) fault.value = `The barcode ${code} is no item’s. These look most alike.`
  } catch (error) {
    fault.value = error instanceof Error ? error.message : 'The picture could not be read.'
  } finally {
    state.value = ''
  }
}
onBeforeUnmount(() => {
  if (shown.value) URL.revokeObjectURL(shown.value)
})
import FileField from '#web/shared/FileField.vue'
</script>

<template>
  <ElDialog :model-value="true" title="Find by a picture or barcode" width="640px" @close="emit('close')">
    <div class="drop">
      <img v-if="shown" :src="shown" alt="What was given" /><FileField
        label="Drop a picture here, choose a file, or take a photo"
        accept="image/*"
        camera
        mark="picture-file"
        @choose="look($event[0])"
      /><span class="quiet">It is compared on this machine and sent nowhere.</span>
    </div>
    <p v-if="state" class="quiet" role="status">{{ state }} …</p>
    <p v-if="fault" class="field-fault" role="alert">{{ fault }}</p>
    <ul v-if="found.length" class="alike" data-test="alike">
      <li v-for="one in found" :key="one.id">
        <RouterLink :to="`/request/catalogue/${one.id}`" :data-test="`alike-${one.number}`" @click="emit('close')"
          ><img :src="pictureSource(one.picture)" alt="" width="56" height="56" /><span
            ><b>{{ one.name }}</b
            ><span class="quiet">{{ one.number }}, {{ one.category }}</span></span
          ><span class="likeness"
            ><b>{{ one.percent }} %</b
            ><span class="quiet">shape {{ one.shape }}, texture {{ one.texture }}, colour {{ one.colour }}</span></span
          ></RouterLink
        >
      </li>
    </ul>
    <p v-if="left" class="quiet">{{ left }} more items have pictures that are not compared.</p>
  </ElDialog>
</template>

<style scoped>
.drop {
  display: flex;
  gap: 16px;
  align-items: center;
  border: 1px dashed #b9ae98;
  padding: 16px;
  cursor: pointer;
  min-height: 96px;
}
.drop.over,
.drop:focus-within {
  border-color: var(--tide);
  background: var(--tide-light);
}
.drop img {
  width: 84px;
  height: 84px;
  object-fit: contain;
  background: #fff;
  border: 1px solid var(--rule);
}
.alike {
  list-style: none;
  padding: 0;
  margin: 10px 0 0;
  max-height: 50vh;
  overflow: auto;
}
li a {
  display: grid;
  grid-template-columns: 60px 1fr auto;
  gap: 12px;
  align-items: center;
  padding: 5px 0;
  border-top: 1px solid var(--rule-light);
  color: inherit;
  text-decoration: none;
}
li a:hover {
  background: #fbf7ee;
}
li span {
  display: flex;
  flex-direction: column;
}
.likeness {
  text-align: right;
}
</style>
