<script setup lang="ts">
import { type Agreement, fieldText } from '#web/agreements/agreementText.ts'

/** What another revision says differently: the old struck through, the new beside it. */
defineProps<{ differences: Agreement['differences'] }>()
</script>

<template>
  <ul class="differences">
    <li v-for="(one, at) in differences" :key="at">
      {{ fieldText(one) }} <del v-if="one.before">{{ one.before }}</del>
      <template v-if="one.after"
        >→ <b>{{ one.after }}</b></template
      ><template v-else>is taken out</template>
    </li>
  </ul>
</template>
