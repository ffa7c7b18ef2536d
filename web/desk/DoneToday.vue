<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { ReadDone } from '#contract/desk/endpoints.ts'
import { OWN_DESK } from '#web/news/news.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label, timeText } from '#web/shared/words.ts'

/** What this person did today. */
const open = ref(false)
const { data } = useRead(ReadDone, {}, { topics: [OWN_DESK], when: open })
</script>

<template>
  <section class="done">
    <h2>
      <ElButton link :aria-expanded="open" data-test="done-today" @click="open = !open"
        ><span class="turn" aria-hidden="true">{{ open ? '▾' : '▸' }}</span
        >Done today <span v-if="data" class="quiet">{{ data.count }}</span></ElButton
      >
    </h2>
    <p v-if="open && data?.count === 0" class="quiet nothing">Nothing yet.</p>
    <ul v-else-if="open && data">
      <li v-for="(one, index) in data.done" :key="index">
        <span class="quiet">{{ timeText(one.at) }}</span><span>{{ label('history', one.action) }}</span
        ><RouterLink :to="one.path">{{ one.number }}</RouterLink
        ><span class="cut">{{ one.title }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.done {
  margin-top: 30px;
}
h2 .el-button {
  font: 600 14px var(--serif);
  color: var(--ink);
}
.turn {
  display: inline-block;
  width: 18px;
  font-size: 12px;
  color: var(--ink-quiet);
}
p.nothing {
  padding: 4px 0 0 18px;
}
ul {
  list-style: none;
  margin: 4px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 48px 150px 70px minmax(0, 1fr);
  gap: 12px;
  padding: 3px 0 3px 18px;
  font-size: 12.5px;
}
.cut {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
