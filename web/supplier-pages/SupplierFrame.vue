<script setup lang="ts">
import { useSession } from '#web/people/session.ts'
const session = useSession()
</script>

<template>
  <div class="supplier-frame">
    <header><RouterLink to="/supplier" class="mark"><img src="/mark.svg" width="18" height="22" alt="" />{{ session.person?.company }}</RouterLink><span class="quiet">orders from Saltmere Aquarium Trust</span><button type="button" class="plain" data-test="sign-out" @click="session.signOut()">{{ session.person?.name }}, sign out</button></header>
    <main><slot /></main>
  </div>
</template>

<style scoped>
.supplier-frame { flex: 1; overflow: auto; background: var(--page); } header { display: flex; gap: 14px; align-items: baseline; padding: 14px 24px; border-bottom: 1px solid var(--rule); background: var(--sheet); flex-wrap: wrap; } header button { margin-left: auto; } .mark { font: 600 17px var(--serif); color: var(--ink); display: flex; gap: 9px; align-items: center; } main { max-width: 860px; margin: 0 auto; padding: 26px 20px 60px; }
</style>
