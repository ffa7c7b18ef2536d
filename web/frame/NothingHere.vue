<script setup lang="ts">
import { useSession } from '#web/people/session.ts'
const session = useSession()
</script>

<template>
  <main class="nothing">
    <h1>There is nothing here</h1>
    <p>The address may be mistyped, or what was here is not yours to see.</p>
    <p v-if="session.person">
      <RouterLink to="/">Go to {{ session.realm === 'supplier' ? 'your orders' : 'your Desk' }}</RouterLink
      >, or search with Ctrl K: a document’s number finds it whatever its age.
    </p>
    <p v-else><RouterLink to="/sign-in">Sign in</RouterLink></p>
  </main>
</template>

<style scoped>
.nothing {
  padding: 60px;
  max-width: 560px;
  display: flex;
  flex-direction: column;
  gap: 10px;
  font-size: 14px;
}
</style>
