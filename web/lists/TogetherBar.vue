<script setup lang="ts">
import { ElButton } from 'element-plus'
import { defineAsyncComponent, ref } from 'vue'
import { TOGETHER, type TogetherAct } from '#contract/documents/together.ts'
import { label } from '#web/shared/words.ts'

/** What can be done with the rows that are chosen. */
defineProps<{ kind: keyof typeof TOGETHER; chosen: ReadonlySet<string> }>()
const emit = defineEmits<{ clear: []; done: [] }>()
const TogetherDialog = defineAsyncComponent(() => import('#web/lists/TogetherDialog.vue'))
const act = ref<TogetherAct>()
</script>

<template>
  <p class="bar together" role="status" data-test="together-bar">
    <template v-if="chosen.size"
      ><span
        ><b>{{ chosen.size }}</b> chosen</span
      ><ElButton
        v-for="one in TOGETHER[kind]"
        :key="one"
        size="small"
        :data-test="`together-${one}`"
        @click="act = one"
        >{{ label('action', one) }}</ElButton
      ><ElButton link @click="emit('clear')">let go of them</ElButton></template
    ><span v-else class="quiet">Choose rows with the space bar, Shift for several, Ctrl+A for all that match.</span>
    <TogetherDialog
      v-if="act"
      :kind="kind"
      :act="act"
      :ids="[...chosen]"
      @done="emit('done')"
      @close="act = undefined"
    />
  </p>
</template>

<style scoped>
.together {
  min-height: 26px;
  margin-left: 12px;
}
</style>
