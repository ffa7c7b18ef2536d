<script setup lang="ts">
import { onMounted, onUnmounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { type DeskItem, ReadDesk } from '#contract/people/endpoints.ts'
import { api } from '#web/api.ts'
import SheetFailure from '#web/frame/SheetFailure.vue'
import { OWN_DESK, useNews } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import { amountText, day, label, since, words } from '#web/shared/words.ts'

const session = useSession()
const router = useRouter()
const items = shallowRef<DeskItem[]>()
const failure = shallowRef<unknown>()
const at = ref(-1)

async function load(): Promise<void> {
  try {
    items.value = (await api(ReadDesk)).items
    failure.value = undefined
  } catch (error) {
    failure.value = error
  }
}
useNews([OWN_DESK], () => void load())

function key(event: KeyboardEvent): void {
  if (
    event.ctrlKey ||
    event.altKey ||
    ['INPUT', 'TEXTAREA'].includes((event.target as HTMLElement).tagName) ||
    !items.value
  )
    return
  const step = { j: 1, ArrowDown: 1, k: -1, ArrowUp: -1 }[event.key]
  if (step !== undefined) {
    at.value = Math.max(0, Math.min(items.value.length - 1, at.value + step))
    document.querySelectorAll('.item')[at.value]?.scrollIntoView({ block: 'nearest' })
    event.preventDefault()
  }
  if (event.key === 'Enter' && items.value[at.value]) void router.push(items.value[at.value]!.path)
}
onMounted(() => {
  void load()
  addEventListener('keydown', key)
})
onUnmounted(() => removeEventListener('keydown', key))
const late = (item: DeskItem): boolean => item.needBy !== null && item.needBy < session.today
</script>

<template>
  <main class="desk-page">
    <SheetFailure v-if="failure && !items" :failure="failure" @again="load" />
    <div v-else-if="items" class="column">
      <header>
        <h1>
          {{
            items.length === 0
              ? 'Nothing waits for you'
              : items.length === 1
                ? 'One thing waits for you'
                : `${items.length} things wait for you`
          }}
        </h1>
        <p class="quiet">What costs most to leave stands first: what is held, then what is needed soonest.</p>
      </header>
      <p v-if="items.length === 0" class="empty">
        When a request, an order, a delivery or an invoice needs you, it stands here.
        <RouterLink v-if="session.may('requisition.write')" to="/request/catalogue"
          >Ask for something from the catalogue.</RouterLink
        >
      </p>
      <ol v-else>
        <li v-for="(item, index) in items" :key="item.key" class="item" :class="{ at: index === at }">
          <RouterLink :to="item.path" :data-test="`desk-${item.key.split(':')[0]}`">
            <span class="stage">{{ label('stage', item.stage) }}</span>
            <span class="what"
              ><b :class="`tone-${item.tone === 'plain' ? '' : item.tone}`">{{ words(item.sentence) }}</b
              ><span class="quiet"
                >{{ item.sentence.details.number ? `${item.sentence.details.number}, ` : ''
                }}{{ since(item.since) }}</span
              ></span
            >
            <span class="amount"
              ><template v-if="item.amount"
                ><small class="unit">{{ item.currency }}</small> {{ amountText(item.amount) }}</template
              ></span
            >
            <span class="by" :class="{ 'tone-stop': late(item) }">{{
              item.needBy ? `${item.stage === 'bill' || item.stage === 'pay' ? 'due' : 'by'} ${day(item.needBy)}` : ''
            }}</span>
            <span class="act">{{ label('desk act', item.act) }}</span>
          </RouterLink>
        </li>
      </ol>
    </div>
  </main>
</template>

<style scoped>
.desk-page {
  overflow: auto;
  flex: 1;
  background: var(--page);
  padding: 28px 24px 60px;
}
.column {
  max-width: 980px;
  margin: 0 auto;
}
header {
  margin-bottom: 18px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  background: var(--sheet);
  border: 1px solid var(--rule);
}
.item a {
  display: grid;
  grid-template-columns: 66px minmax(0, 1fr) 150px 86px 64px;
  column-gap: 14px;
  padding: 10px 16px;
  color: inherit;
  border-bottom: 1px solid var(--rule-light);
  align-items: baseline;
}
.item:last-child a {
  border: 0;
}
.item a:hover {
  text-decoration: none;
  background: #fbf7ee;
}
.item.at a {
  box-shadow: inset 3px 0 0 var(--tide);
  background: #fbf7ee;
}
.stage {
  color: var(--ink-quiet);
  font-size: 12px;
}
.what {
  display: flex;
  flex-direction: column;
}
.what b {
  font-weight: 600;
}
.what .quiet {
  font-size: 12px;
}
.amount,
.by {
  text-align: right;
  white-space: nowrap;
}
.by {
  font-size: 12px;
  color: var(--ink-quiet);
}
.by.tone-stop {
  color: var(--madder);
}
.act {
  color: var(--tide);
  font-weight: 600;
  text-align: right;
}
@media (max-width: 700px) {
  .desk-page {
    padding: 16px 10px 40px;
  }
  .item a {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .stage {
    display: none;
  }
  .act {
    grid-column: 2;
  }
  .what {
    grid-column: 1 / 3;
  }
}
</style>
