<script setup lang="ts">
import { ElButton, ElConfigProvider } from 'element-plus'
import HouseMark from '#web/frame/HouseMark.vue'
import { useSession } from '#web/people/session.ts'
import { controls, t } from '#web/shared/language.ts'

const session = useSession()
</script>

<template>
  <div class="supplier-frame">
    <header>
      <RouterLink to="/supplier" class="mark"><HouseMark :height="22" />{{ session.person?.company }}</RouterLink>
      <nav :aria-label="t('Pages')">
        <RouterLink v-if="session.may('supplierPages.orders')" to="/supplier" exact-active-class="here">{{
          t('Orders')
        }}</RouterLink><RouterLink
          v-if="session.may('supplierPages.bill')"
          to="/supplier/invoices"
          active-class="here"
          data-test="nav-invoices"
          >{{ t('Invoices') }}</RouterLink
        ><RouterLink
          v-if="session.may('supplierPages.company')"
          to="/supplier/company"
          active-class="here"
          data-test="nav-company"
          >{{ t('Company') }}</RouterLink
        ><RouterLink
          v-if="session.may('supplierPages.people')"
          to="/supplier/people"
          active-class="here"
          data-test="nav-people"
          >{{ t('People and messages') }}</RouterLink
        >
      </nav>
      <RouterLink to="/supplier/account" class="own">{{ t('Your account') }}</RouterLink>
      <ElButton link data-test="sign-out" @click="session.signOut()">
        {{ t('{name}, sign out', { name: session.person?.name ?? '' }) }}
      </ElButton>
    </header>
    <main>
      <ElConfigProvider :locale="controls()"><slot /></ElConfigProvider>
    </main>
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
