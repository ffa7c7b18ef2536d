<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { KeepAsList, RepeatLists } from '#contract/request/catalogue.ts'
import { api } from '#web/api.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import FormField from '#web/shared/FormField.vue'

/** Keeps a basket or a request as a repeat list, or adds it to one. */
const props = defineProps<{ from: string; name: string }>()
const emit = defineEmits<{ close: [] }>()
const { busy, reasons, run } = useAction()
const name = ref(props.name)
const listId = ref('')
const lists = shallowRef<ResponseOf<typeof RepeatLists>['lists']>([])
const mine = computed(() => lists.value.filter(list => list.mine))
onMounted(async () => {
  lists.value = (await api(RepeatLists)).lists
})
async function keep(): Promise<void> {
  if (
    await run(() =>
      api(KeepAsList, {
        body: { name: name.value || 'A repeat list', from: props.from, listId: listId.value || null },
      }),
    )
  )
    emit('close')
}
</script>

<template>
  <ElDialog :model-value="true" title="Keep as a repeat list" width="460px" @close="emit('close')">
    <p class="quiet">
      Items, quantities and texts are kept; day, place and accounts are chosen anew each time. A personal fee is left
      out.
    </p>
    <EntryForm :reasons="reasons" :busy="busy" @submit="keep"
      ><FormField label="Into" class="gap"
        ><ElSelect v-model="listId" clearable :value-on-clear="''" placeholder="a new list"
          ><ElOption v-for="list in mine" :key="list.id" :value="list.id" :label="list.name" /></ElSelect
      ></FormField>
      <FormField label="Name" v-if="!listId" class="gap"
        ><ElInput v-model="name" maxlength="200" data-test="list-name"
      /></FormField>

      <template #acts
        ><ElButton
          type="primary"
          :disabled="busy || (!listId && !name.trim())"
          data-test="keep-list"
          native-type="submit"
          >Keep it</ElButton
        ><ElButton @click="emit('close')">Leave it</ElButton></template
      ></EntryForm
    ></ElDialog
  >
</template>

<style scoped>
.gap {
  margin-top: 12px;
}
</style>
