<script setup lang="ts">
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadOnboarding } from '#contract/source/onboarding.ts'
import { day, since } from '#web/shared/words.ts'

/** Who was invited, and how much is answered. */
defineProps<{ sheet: ResponseOf<typeof ReadOnboarding> }>()
</script>

<template>
  <section>
    <h3>Invitation</h3>
    <p v-if="!sheet.invited.until" class="quiet">Not sent yet.</p>
    <template v-else
      ><p class="kv">
        <span class="quiet">To</span><span class="break">{{ sheet.invited.name }}<br />{{ sheet.invited.email }}</span>
      </p>
      <p class="kv">
        <span class="quiet">Link</span
        ><span>{{
          sheet.invited.usedAt ? `used ${since(sheet.invited.usedAt)}` : `works until ${day(sheet.invited.until)}`
        }}</span>
      </p></template
    >
    <p v-if="sheet.questionnaire" class="kv">
      <span class="quiet">Questions</span
      ><span>{{ sheet.questionnaire.name }}, version {{ sheet.questionnaire.number }}</span>
    </p>
    <p v-if="sheet.toAnswer" class="kv">
      <span class="quiet">Answered</span><span>{{ sheet.answered }} of {{ sheet.toAnswer }}</span>
    </p>
  </section>
</template>

<style scoped>
.break {
  overflow-wrap: anywhere;
  text-align: right;
}
</style>
