<script setup lang="ts">
import { ElButton } from 'element-plus'
import { useSession } from '#web/people/session.ts'

const session = useSession()
</script>

<template>
  <div class="supplier-frame">
    <header>
      <RouterLink to="/supplier" class="mark"
        ><img src="/mark.svg" width="18" height="22" alt="" />{{ session.person?.company }}</RouterLink
      >
      <nav aria-label="Pages">
        <RouterLink v-if="session.may('supplierPages.orders')" to="/supplier" exact-active-class="here"
          >Orders</RouterLink
        ><RouterLink
          v-if="session.may('supplierPages.company')"
          to="/supplier/company"
          active-class="here"
          data-test="nav-company"
          >Company</RouterLink
        ><RouterLink
          v-if="session.may('supplierPages.people')"
          to="/supplier/people"
          active-class="here"
          data-test="nav-people"
          >People and messages</RouterLink
        >
      </nav>
      <RouterLink to="/supplier/account" class="own">Your account</RouterLink>
      <ElButton link data-test="sign-out" @click="session.signOut()"> {{ session.person?.name }}, sign out </ElButton>
    </header>
    <main><slot /></main>
  </div>
</template>

<style scoped>
.supplier-frame {
  flex: 1;
  overflow: auto;
  background: var(--page);
}
header {
  display: flex;
  gap: 8px 22px;
  align-items: baseline;
  padding: 14px 24px;
  border-bottom: 1px solid var(--rule);
  background: var(--sheet);
  flex-wrap: wrap;
}
.own {
  margin-left: auto;
}
.mark {
  font: 600 17px var(--serif);
  color: var(--ink);
  display: flex;
  gap: 9px;
  align-items: center;
}
nav {
  display: flex;
  gap: 18px;
}
.here {
  color: var(--ink);
  font-weight: 600;
  border-bottom: 2px solid var(--tide);
}
main {
  max-width: 860px;
  margin: 0 auto;
  padding: 26px 20px 60px;
}
</style>
