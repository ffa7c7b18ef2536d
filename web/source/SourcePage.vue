<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { Suppliers } from '#contract/source/endpoints.ts'
import { Onboardings } from '#contract/source/onboarding.ts'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import ImportSuppliersDialog from '#web/source/ImportSuppliersDialog.vue'
import ProposeDialog from '#web/source/ProposeDialog.vue'

/** Suppliers at the left, or the onboardings; the chosen record at the right. */
const session = useSession()
const route = useRoute()
const importing = ref(false)
const proposing = ref(false)
const onboarding = computed(() => route.path.startsWith('/source/onboardings'))
</script>

<template>
  <StageFrame
    :key="onboarding ? 'onboardings' : 'suppliers'"
    stage="source"
    :name="onboarding ? 'onboardings' : 'suppliers'"
    :list="onboarding ? Onboardings : Suppliers"
    :home="onboarding ? '/source/onboardings' : '/source'"
  >
    <template #acts>
      <p class="bar list-acts">
        <RouterLink v-if="session.may('supplier.write')" to="/source/new" data-test="new-supplier"
          ><ElButton size="small">New supplier</ElButton></RouterLink
        >
        <ElButton link data-test="propose" @click="proposing = true">Propose one</ElButton>
        <RouterLink v-if="!onboarding" to="/source/onboardings" data-test="onboardings">Onboardings</RouterLink>
        <RouterLink v-else to="/source">Suppliers</RouterLink>
        <RouterLink v-if="session.may('supplier.merge')" to="/source/duplicates" data-test="duplicates"
          >Duplicates</RouterLink
        >
        <ElButton link v-if="session.may('supplier.write')" data-test="import" @click="importing = true">
          Import
        </ElButton>
      </p>
    </template>
    <RouterView />
  </StageFrame>
  <ImportSuppliersDialog v-if="importing" @close="importing = false" />
  <ProposeDialog v-if="proposing" @close="proposing = false" />
</template>

<style>
.list-acts {
  margin-top: 8px;
}
</style>
