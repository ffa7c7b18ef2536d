<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref, watch } from 'vue'
import type { SheetFrame } from '#contract/fields.ts'
import { Attach, ReadAttachment, SeeNotes } from '#contract/files/endpoints.ts'
import type { DocumentKind } from '#core/documents/kinds.ts'
import { sumTexts } from '#core/money/text.ts'
import { api, pathOf, upload } from '#web/api.ts'
import BudgetBar from '#web/charts/BudgetBar.vue'
import NoteField from '#web/frame/NoteField.vue'
import StepLine from '#web/frame/StepLine.vue'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, label, since, stamp } from '#web/shared/words.ts'

/** Beside every Sheet: money before and after, who decides, notes and files, history. */
const props = defineProps<{ sheet: SheetFrame }>()
const emit = defineEmits<{ changed: [] }>()
const { busy: writing, reasons, run } = useAction()
const allHistory = ref(false)
const here = () => ({ documentKind: props.sheet.kind as DocumentKind, documentId: props.sheet.id })

/** What names this person is seen with the Sheet, and leaves the Desk. */
watch(
  () => props.sheet.notes.some(one => one.toSee),
  toSee => {
    if (toSee) void api(SeeNotes, { body: here() }).catch(() => undefined)
  },
  { immediate: true },
)
async function attach(files: readonly File[]): Promise<void> {
  await run(async () => {
    for (const file of files) await api(Attach, { body: { ...here(), fileId: (await upload(file)).id } })
  })
  emit('changed')
}
const size = (bytes: number): string =>
  bytes > 1_000_000 ? `${(bytes / 1_048_576).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1024))} kB`
</script>

<template>
  <aside class="margin" aria-label="Margin">
    <section v-if="sheet.budgets.length">
      <h3>Money</h3>
      <BudgetBar v-for="figures in sheet.budgets" :key="figures.accountId" :figures="figures" />
      <p v-for="figures in sheet.budgets.slice(0, 1)" :key="figures.accountId" class="kv">
        <span>This document</span
        ><span
          >{{ amountText(sumTexts(sheet.budgets.map(one => one.here))) }}
          <span class="unit">{{ figures.currency }}</span></span
        >
      </p>
    </section>
    <slot />
    <section v-if="sheet.steps.length">
      <h3>Who decides</h3>
      <StepLine v-for="(step, index) in sheet.steps" :key="step.id ?? index" :step="step" />
    </section>
    <section>
      <h3>Notes and files</h3>
      <p v-for="one in sheet.notes" :key="one.id" class="note">
        <b>{{ one.by.split(' ')[0] }}</b> <span class="quiet">{{ since(one.at) }}</span><br />{{ one.text }}
      </p>
      <p v-for="file in sheet.attachments" :key="file.id" class="note">
        <a :href="pathOf(ReadAttachment, { id: file.id })" download>{{ file.name }}</a>
        <span class="quiet">{{ size(file.size) }}</span>
      </p>
      <NoteField v-bind="here()" :key="sheet.id" @written="emit('changed')" />
      <p class="bar small">
        <FileField label="Attach a file" multiple mark="attach" :busy="writing" @choose="attach" />
      </p>
      <ReasonList :reasons="reasons" />
    </section>
    <section>
      <h3>History</h3>
      <p
        v-for="one in allHistory ? sheet.history : sheet.history.slice(0, 5)"
        :key="one.sequence"
        class="kv"
        :title="`${one.actor}${one.onBehalfOf ? ` for ${one.onBehalfOf}` : ''}, ${stamp(one.at)}, by ${one.channel}`"
      >
        <span
          >{{ label('history', one.action) }} <span v-if="one.reason" class="said">“{{ one.reason }}”</span></span
        ><span class="quiet nowrap"
          >{{ one.actor.split(' ')[0] }}{{ one.onBehalfOf ? ` for ${one.onBehalfOf.split(' ')[0]}` : '' }},
          {{ since(one.at) }}</span
        >
      </p>
      <ElButton link v-if="!allHistory && sheet.historyCount > 5" @click="allHistory = true">
        {{ sheet.historyCount - 5 }} more entries
      </ElButton>
    </section>
  </aside>
</template>

<style scoped>
.margin {
  border-left: 1px solid var(--rule);
  padding: 18px;
  font-size: 12.3px;
  min-width: 0;
}
.margin :deep(section) {
  padding-bottom: 13px;
  margin-bottom: 13px;
  border-bottom: 1px solid var(--rule-light);
}
.margin section:last-child {
  border: 0;
}
.margin :deep(h3) {
  margin-bottom: 6px;
}
.margin :deep(.kv) {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  padding: 1.5px 0;
}
.nowrap {
  white-space: nowrap;
}
.said {
  color: var(--ink-quiet);
  font-style: italic;
  display: block;
}
.note {
  padding: 4px 0;
  overflow-wrap: anywhere;
}
.small {
  margin-top: 6px;
}
@media (max-width: 1000px) {
  .margin {
    border-left: 0;
    border-top: 1px solid var(--rule);
  }
}
</style>
