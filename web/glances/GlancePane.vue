<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { type GlanceStage, ReadGlance } from '#contract/glances/endpoints.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import GlanceBars from '#web/glances/GlanceBars.vue'
import GlanceBudgets from '#web/glances/GlanceBudgets.vue'
import GlanceGrid from '#web/glances/GlanceGrid.vue'
import GlanceRows from '#web/glances/GlanceRows.vue'
import { OWN_DESK, STAGE_VALUES } from '#web/news/news.ts'
import { useRead } from '#web/shared/useRead.ts'
import { label, words } from '#web/shared/words.ts'

/** What a stage shows before a document is opened: what its people want to know first. Every figure opens the list behind it. */
const props = defineProps<{ stage: GlanceStage }>()
const router = useRouter()
const { data, failure, reload } = useRead(ReadGlance, () => ({ params: { stage: props.stage } }), {
  topics: [OWN_DESK, STAGE_VALUES],
})
const text = ref('')
const today = new Intl.DateTimeFormat('en-GB', { weekday: 'long' }).format(new Date())
const shown = computed(() => (data.value?.parts ?? []).filter(part => part.kind !== 'rows' || part.rows.length > 0))
const search = (to: string): void => void router.push({ path: to, query: text.value ? { q: text.value } : {} })
</script>

<template>
  <article class="glance" :aria-label="`${label('stage', stage)} at a glance`" data-test="glance">
    <SheetFailure v-if="failure && !data" :failure="failure" @again="reload" />
    <template v-else-if="data">
      <h1>{{ label('stage', stage) }}, this {{ today }}</h1>
      <p v-if="data.says.length" class="says">
        <template v-for="(one, index) in data.says" :key="index"
          ><RouterLink v-if="one.to" :to="one.to" :class="`tone-${one.tone}`">{{ words(one.sentence) }}</RouterLink
          ><span v-else :class="`tone-${one.tone}`">{{ words(one.sentence) }}</span
          >{{ ' ' }}</template
        >
      </p>
      <p v-if="shown.length === 0" class="empty">
        Nothing to see here yet. Choose something in the list at the left, with the mouse or with j and k.
      </p>
      <section v-for="part in shown" :key="part.key">
        <h2>
          {{ label('glance', part.key)
          }}<small v-if="part.kind === 'bars'">
            thousand {{ [data.currency, label('glance part', part.key)].filter(Boolean).join('; ') }}</small
          >
        </h2>
        <form v-if="part.kind === 'search'" class="ask" @submit.prevent="search(part.to)">
          <ElInput
            v-model="text"
            placeholder="What do you need? A word, a number, a quick line"
            aria-label="Search the catalogue"
            data-test="glance-search"
          /><ElButton type="primary" native-type="submit">Look</ElButton>
        </form>
        <GlanceBars v-else-if="part.kind === 'bars'" :part="part" :currency="data.currency" />
        <GlanceRows v-else-if="part.kind === 'rows'" :part="part" :currency="data.currency" @changed="reload" />
        <GlanceGrid v-else-if="part.kind === 'grid'" :part="part" />
        <GlanceBudgets v-else :part="part" :currency="data.currency" />
      </section>
    </template>
  </article>
</template>

<style scoped>
.glance {
  padding: 26px 32px 48px;
  max-width: 940px;
}
.says {
  font-size: 14.5px;
  margin-top: 4px;
  max-width: 620px;
}
.says a {
  color: var(--ink);
}
.says a.tone-stop {
  color: var(--madder);
}
.says a.tone-attention {
  color: var(--brass);
}
section {
  margin-top: 26px;
}
h2 {
  font-size: 14.5px;
  margin-bottom: 8px;
}
h2 small {
  font: 400 11.5px var(--sans);
  color: var(--ink-quiet);
}
.ask {
  display: flex;
  gap: 10px;
  max-width: 520px;
}
@media (max-width: 700px) {
  .glance {
    padding: 18px 16px;
  }
}
</style>
