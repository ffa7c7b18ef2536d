<script setup lang="ts">
import { ElButton, ElPopover } from 'element-plus'
import { computed, defineAsyncComponent, ref } from 'vue'
import type { DeskItem } from '#contract/desk/endpoints.ts'
import { useSession } from '#web/people/session.ts'
import { amountText, day, label, since, words } from '#web/shared/words.ts'

/** One thing that waits: what it is, the figure that decides, by when. Only that figure carries a colour. */
const props = defineProps<{ item: DeskItem; at: boolean }>()
const emit = defineEmits<{ putOff: [until: string] }>()
const PutOffMenu = defineAsyncComponent(() => import('#web/desk/PutOffMenu.vue'))
const session = useSession()
const open = ref(false)
const late = computed(() => props.item.needBy !== null && props.item.needBy < session.today)
const tone = computed(() => (late.value || props.item.tone === 'plain' ? '' : `tone-${props.item.tone}`))
function choose(until: string | null): void {
  open.value = false
  if (until) emit('putOff', until)
}
</script>

<template>
  <li class="item" :class="{ at }">
    <RouterLink :to="item.path" :data-test="`desk-${item.key.split(':')[0]}`">
      <span class="what"
        ><b>{{ words(item.sentence) }}</b
        ><span class="quiet"
          >{{ item.sentence.details.number ? `${item.sentence.details.number}, ` : '' }}{{ since(item.since)
          }}{{ item.standsInFor ? `, in place of ${item.standsInFor}` : '' }}</span
        ></span
      >
      <span class="amount" :class="tone"
        ><template v-if="item.amount"
          ><small class="unit">{{ item.currency }}</small> {{ amountText(item.amount) }}</template
        ><template v-else-if="tone">{{ item.tone === 'stop' ? '▲' : '◆' }}</template></span
      >
      <span class="by" :class="{ 'tone-stop': late }"
        ><template v-if="item.needBy"
          >{{ item.stage === 'bill' || item.stage === 'pay' ? 'due' : 'by' }} {{ day(item.needBy) }}</template
        ></span
      >
      <span class="stage">{{ label('stage', item.stage) }}</span>
    </RouterLink>
    <ElPopover v-model:visible="open" trigger="click" :persistent="false" :width="230" placement="bottom-end"
      ><template #reference
        ><ElButton link class="later" data-test="put-off" :title="'Put it off (P: until tomorrow)'"
          >later</ElButton
        ></template
      >
      <PutOffMenu v-if="open" @choose="choose"
    /></ElPopover>
  </li>
</template>

<style scoped>
.item {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--rule-light);
}
.item.at,
.item:hover {
  background: var(--sheet);
}
.item.at {
  box-shadow: inset 3px 0 0 var(--tide);
}
.item > a {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 130px 92px 62px;
  gap: 14px;
  align-items: baseline;
  padding: 9px 4px 9px 18px;
  color: var(--ink);
  text-decoration: none;
}
.what b {
  font-weight: 500;
  display: block;
}
.what .quiet {
  font-size: 12px;
}
.amount {
  text-align: right;
  white-space: nowrap;
  font-weight: 500;
}
.by {
  white-space: nowrap;
}
.stage {
  color: var(--ink-quiet);
  font-size: 12px;
}
.later {
  padding: 6px 8px;
  color: var(--ink-quiet);
}
@media (max-width: 700px) {
  .item > a {
    grid-template-columns: minmax(0, 1fr) auto;
    gap: 2px 12px;
    padding-left: 4px;
  }
  .what {
    grid-column: 1 / -1;
  }
  .amount {
    text-align: left;
  }
  .stage {
    display: none;
  }
}
@media print {
  .later {
    display: none;
  }
}
</style>
