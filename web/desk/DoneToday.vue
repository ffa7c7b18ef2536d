<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { ReadDone } from '#contract/desk/endpoints.ts'
import { OWN_DESK } from '#web/news/news.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label, timeText } from '#web/shared/words.ts'

/** What this person did today. */
const { data } = useRead(ReadDone, {}, { topics: [OWN_DESK] })
const open = ref(false)
</script>

<template>
  <section v-if="data?.count" class="done">
    <h2>
      <ElButton link :aria-expanded="open" data-test="done-today" @click="open = !open"
        ><span class="turn" aria-hidden="true">{{ open ? '▾' : '▸' }}</span
        >Done today <span class="quiet">{{ data.count }}</span></ElButton
      >
    </h2>
    <ul v-if="open">
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
