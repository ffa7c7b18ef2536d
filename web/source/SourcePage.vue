<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { Agreements } from '#contract/agreements/agreements.ts'
import { Costings } from '#contract/build/costings.ts'
import { Suppliers } from '#contract/source/endpoints.ts'
import { AskedSuppliers, Events } from '#contract/source/events.ts'
import { Onboardings } from '#contract/source/onboarding.ts'
import NewAgreementDialog from '#web/agreements/NewAgreementDialog.vue'
import NewCostingDialog from '#web/build/NewCostingDialog.vue'
import StageFrame from '#web/frame/StageFrame.vue'
import { useSession } from '#web/people/session.ts'
import ImportSuppliersDialog from '#web/source/ImportSuppliersDialog.vue'
import NewEventDialog from '#web/source/NewEventDialog.vue'
import ProposeDialog from '#web/source/ProposeDialog.vue'

/** Suppliers at the left, or the onboardings; the chosen record at the right. */
const session = useSession()
const route = useRoute()
const importing = ref(false)
const proposing = ref(false)
const asking = ref(false)
const costing = ref(false)
const agreeing = ref(false)
const shown = computed(() =>
  route.path.startsWith('/source/events')
    ? 'events'
    : route.path.startsWith('/source/asked')
      ? 'asked'
      : route.path.startsWith('/source/onboardings')
        ? 'onboardings'
        : route.path.startsWith('/source/agreements') || route.path === '/source/price-indices'
          ? 'agreements'
          : route.path.startsWith('/source/builds')
            ? 'costings'
            : 'suppliers',
)
const onEvents = computed(() => shown.value === 'events' || shown.value === 'asked')
const LISTS = {
  suppliers: Suppliers,
  onboardings: Onboardings,
  events: Events,
  asked: AskedSuppliers,
  costings: Costings,
  agreements: Agreements,
}
const HOMES = {
  suppliers: '/source',
  onboardings: '/source/onboardings',
  events: '/source/events',
  asked: '/source/asked',
  costings: '/source/builds',
  agreements: '/source/agreements',
}
</script>

<template>
  <StageFrame :key="shown" stage="source" :name="shown" :list="LISTS[shown]" :home="HOMES[shown]">
    <template #acts>
      <p class="bar list-acts">
        <template v-if="onEvents"
          ><ElButton v-if="session.may('event.write')" size="small" data-test="new-event" @click="asking = true"
            >Ask suppliers</ElButton
          ></template
        ><template v-else-if="shown === 'costings'"
          ><ElButton size="small" data-test="new-costing" @click="costing = true">Cost a build</ElButton></template
        ><template v-else-if="shown === 'agreements'"
          ><ElButton
            v-if="session.may('agreement.write')"
            size="small"
            data-test="new-agreement"
            @click="agreeing = true"
            >Agree with a supplier</ElButton
          ><RouterLink to="/source/price-indices" data-test="price-indices">Indices</RouterLink></template
        ><template v-else
          ><RouterLink v-if="session.may('supplier.write')" to="/source/new" data-test="new-supplier"
            ><ElButton size="small">New supplier</ElButton></RouterLink
          >
          <ElButton link data-test="propose" @click="proposing = true">Propose one</ElButton></template
        >
        <RouterLink v-if="shown !== 'suppliers'" to="/source">Suppliers</RouterLink>
        <RouterLink v-if="shown !== 'events' && session.may('event.read')" to="/source/events" data-test="events"
          >Asked</RouterLink
        >
        <RouterLink v-if="shown === 'events'" to="/source/asked" data-test="asked-suppliers">Who is asked</RouterLink>
        <RouterLink
          v-if="shown !== 'costings' && session.may('build.write')"
          to="/source/builds"
          data-test="builds-list"
          >Builds</RouterLink
        >
        <RouterLink
          v-if="shown !== 'agreements' && session.may('agreement.read')"
          to="/source/agreements"
          data-test="agreements-list"
          >Agreements</RouterLink
        >
        <RouterLink v-if="shown !== 'onboardings'" to="/source/onboardings" data-test="onboardings"
          >Onboardings</RouterLink
        >
        <template v-if="shown === 'suppliers' || shown === 'onboardings'"
          ><RouterLink v-if="session.may('supplier.merge')" to="/source/duplicates" data-test="duplicates"
            >Duplicates</RouterLink
          >
          <ElButton link v-if="session.may('supplier.write')" data-test="import" @click="importing = true">
            Import
          </ElButton></template
        >
      </p>
    </template>
    <RouterView />
  </StageFrame>
  <ImportSuppliersDialog v-if="importing" @close="importing = false" />
  <ProposeDialog v-if="proposing" @close="proposing = false" />
  <NewEventDialog v-if="asking" @close="asking = false" />
  <NewAgreementDialog v-if="agreeing" @close="agreeing = false" />
  <NewCostingDialog v-if="costing" @close="costing = false" />
</template>

<style>
.list-acts {
  margin-top: 8px;
}
</style>
