<script setup lang="ts">
import '#contract/messages/later.ts'
import { ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import PowerSection from '#web/setup/PowerSection.vue'
import { findSubjects, SUBJECT_GROUPS, SUBJECTS } from '#web/setup/subjects.ts'

/** Setup: one page for each subject, found by its name or by what people call it. */
const route = useRoute()
const router = useRouter()
const text = ref('')
const subject = computed(() => SUBJECTS.find(one => one.key === route.params.subject))
const found = computed(() => new Set(findSubjects(text.value).map(one => one.key)))
const groups = computed(() =>
  SUBJECT_GROUPS.map(group => ({
    ...group,
    subjects: group.subjects.filter(one => found.value.has(one.key)),
  })).filter(group => group.subjects.length > 0),
)
function first(): void {
  const [one] = findSubjects(text.value)
  if (text.value && one) void router.push(`/setup/${one.key}`)
}
</script>

<template>
  <main class="setup">
    <div class="column">
      <template v-if="subject">
        <p class="trail"><RouterLink to="/setup">← Setup</RouterLink></p>
        <component :is="subject.page" :key="subject.key" :register="subject.register" :title="subject.title" />
      </template>
      <template v-else>
        <h1>Setup</h1>
        <ElInput
          v-model="text"
          class="search"
          type="search"
          placeholder="What do you want to set up?"
          aria-label="Search Setup"
          data-test="setup-search"
          @keydown.enter="first"
        />
        <PowerSection />
        <p v-if="groups.length === 0" class="empty">Nothing in Setup is called so.</p>
        <section v-for="group in groups" :key="group.title" class="group">
          <h2>{{ group.title }}</h2>
          <ul>
            <li v-for="one in group.subjects" :key="one.key">
              <RouterLink :to="`/setup/${one.key}`" :data-test="`setup-${one.key}`">{{ one.title }}</RouterLink><span
                class="quiet"
                >{{ one.about }}</span
              >
            </li>
          </ul>
        </section>
      </template>
    </div>
  </main>
</template>

<style scoped>
.setup {
  flex: 1;
  overflow: auto;
  background: var(--sheet);
  padding: 24px;
}
.column {
  max-width: 980px;
  margin: 0 auto;
}
.search {
  max-width: 420px;
  margin: 12px 0 4px;
}
.trail {
  font-size: 12px;
}
.group {
  margin-top: 24px;
}
.group h2 {
  border-bottom: 1px solid var(--ink);
  padding-bottom: 4px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 230px 1fr;
  gap: 16px;
  padding: 7px 0;
  border-bottom: 1px solid var(--rule-light);
}
li a {
  font-weight: 500;
}
:deep(.section) {
  margin-top: 8px;
}
@media (max-width: 700px) {
  li {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
</style>
