<script setup lang="ts">
import { ElButton, ElPopover } from 'element-plus'
import { computed } from 'vue'
import type { ActionState, SheetFrame } from '#contract/fields.ts'
import { label, words } from '#web/shared/words.ts'

/** What can be done with a document now, what it leads to first; and what cannot, with its reason and who would change it. */
const props = defineProps<{ sheet: SheetFrame; busy: boolean }>()
const emit = defineEmits<{ act: [action: string] }>()
const KEY = 'Ctrl ↵'
const QUIET = new Set([
  'close',
  'cancel',
  'withdraw',
  'copy',
  'void',
  'bar',
  'pause',
  'seal',
  'bankAccount',
  'reject',
  'passOn',
  'merge',
  'addCertificate',
  'refuse',
  'inviteAgain',
  'remind',
  'addDecider',
  'refuseSkip',
  'change',
])

const possible = computed(() => props.sheet.actions.filter(one => one.possible))
const forward = computed(() => possible.value.filter(one => one.primary || !QUIET.has(one.action)))
const aside = computed(() => possible.value.filter(one => !one.primary && QUIET.has(one.action)))
/** What is nobody's but another's to do is left out; what could become possible is named with its reason. */
const notNow = computed(() =>
  props.sheet.actions.filter(one => !one.possible && one.reasons.some(reason => reason.code !== 'right.notYours')),
)
const type = (one: ActionState): 'primary' | '' => (one.primary ? 'primary' : '')
</script>

<template>
  <div class="acts bar">
    <slot name="acts" />
    <ElButton
      v-for="one in forward"
      :key="one.action"
      :type="type(one)"
      :disabled="busy"
      :data-primary="one.primary || undefined"
      :data-test="`act-${one.action}`"
      @click="emit('act', one.action)"
      >{{ label('action', one.action) }}<kbd v-if="one.primary" class="hint">{{ KEY }}</kbd></ElButton
    >
    <ElButton
      link
      v-for="one in aside"
      :key="one.action"
      :disabled="busy"
      :data-test="`act-${one.action}`"
      @click="emit('act', one.action)"
    >
      {{ label('action', one.action) }}
    </ElButton>
    <ElPopover v-if="notNow.length" trigger="click" :persistent="false" :width="340">
      <template #reference
        ><ElButton link class="not-now" data-test="not-now">
          Not now: {{ notNow.map(one => label('action', one.action).toLowerCase()).join(', ') }}
        </ElButton></template
      >
      <dl>
        <template v-for="one in notNow" :key="one.action"
          ><dt>{{ label('action', one.action) }}</dt>
          <dd v-for="reason in one.reasons" :key="reason.code">
            {{ words(reason)
            }}<span v-if="reason.clearedBy?.length" class="quiet">
              ({{ reason.clearedBy.map(who => label('role', who)).join(', ') }})</span
            >
          </dd></template
        >
      </dl>
    </ElPopover>
    <slot name="after" />
  </div>
</template>

<style scoped>
.acts {
  margin-top: 12px;
}
.hint {
  margin-left: 8px;
  border: 0;
}
.not-now {
  color: var(--ink-quiet);
  font-size: 12px;
  border-bottom: 1px dotted var(--ink-quiet);
}
dl {
  margin: 0;
}
dt {
  font-weight: 600;
}
dd {
  margin: 0 0 8px;
}
</style>
