<script setup lang="ts">
import { onMounted, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { CreateRequisition } from '#contract/request/endpoints.ts'
import { api } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'

/** An empty draft is made at once, so that everything typed is kept from the first letter on. */
const router = useRouter()
const route = useRoute()
const failure = shallowRef<unknown>()
async function make(): Promise<void> {
  try {
    const { id } = await api(CreateRequisition, { body: { title: '', reason: '', lines: [] } })
    await router.replace({ path: `/request/${id}`, query: route.query })
  } catch (error) {
    failure.value = error
  }
}
onMounted(make)
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="make" />
  <p v-else class="empty">Making a draft …</p>
</template>
