<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { Assets } from '#contract/receive/assets.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import LabelDialog from '#web/receive/LabelDialog.vue'
import PieceDialog from '#web/receive/PieceDialog.vue'

/** Everything that is kept under a tag of ours, and the pieces that nobody has finished. */
const session = useSession()
const finishing = ref(false)
const chosen = ref<string[]>([])
const labels = ref(false)
</script>

<template>
  <StageFrame stage="receive" name="assets" home="/receive/assets" :list="Assets" choosing @choose="chosen = $event"
    ><template #acts
      ><ElButton v-if="session.may('delivery.receive')" link data-test="finish-pieces" @click="finishing = true"
        >Finish pieces</ElButton
      ><ElButton v-if="chosen.length" link data-test="labels" @click="labels = true"
        >Labels of {{ chosen.length }}</ElButton
      ></template
    ><template #list-empty>Nothing is kept under a tag yet.</template><RouterView
  /></StageFrame>
  <PieceDialog v-if="finishing" @close="finishing = false" />
  <LabelDialog v-if="labels" :ids="chosen" @close="labels = false" />
</template>
