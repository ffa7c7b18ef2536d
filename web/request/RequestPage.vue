<script setup lang="ts">
import { ElButton } from 'element-plus'
import { Requisitions } from '#contract/request/endpoints.ts'
import { useSession } from '#web/people/session.ts'
import StageFrame from '#web/frame/StageFrame.vue'

const session = useSession()
</script>

<template>
  <StageFrame stage="request" name="requests" :list="Requisitions">
    <template #acts
      ><p class="bar list-acts">
        <RouterLink to="/request/catalogue" data-test="catalogue"
          ><ElButton size="small" type="primary">Catalogue</ElButton></RouterLink
        ><RouterLink to="/request/new" data-test="new-request">Write a request</RouterLink
        ><RouterLink to="/request/needs" data-test="needs">My needs</RouterLink
        ><RouterLink to="/request/lists" data-test="lists">Repeat lists</RouterLink
        ><RouterLink v-if="session.may('notice.write')" to="/request/notices" data-test="notices">Notices</RouterLink>
      </p></template
    >
    <template #list-empty
      >You have asked for nothing yet. <RouterLink to="/request/catalogue">Look through the catalogue</RouterLink>, or
      <RouterLink to="/request/new">write a request</RouterLink> for something that is not in it.</template
    >
    <RouterView />
  </StageFrame>
</template>
