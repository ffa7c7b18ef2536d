<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { reactive, watch } from 'vue'
import type { BodyOf, ResponseOf } from '#contract/endpoint.ts'
import { type ReadCompanyPeople, type SaveAddresses, SUPPLIER_MESSAGES } from '#contract/source/company.ts'
import { t } from '#web/shared/language.ts'
import { label } from '#web/shared/words.ts'

/** To which addresses each kind of message goes. */
type Addresses = BodyOf<typeof SaveAddresses>['addresses']
const props = defineProps<{ addresses: ResponseOf<typeof ReadCompanyPeople>['addresses']; busy: boolean }>()
const emit = defineEmits<{ save: [addresses: Addresses] }>()
const fresh = reactive<Record<string, string>>({})
/** What was added stands in the list; the fields are for the next. */
watch(
  () => props.addresses,
  () => {
    for (const key of Object.keys(fresh)) delete fresh[key]
  },
)
const current = (): Addresses => props.addresses.map(({ message, email }) => ({ message, email }))
const without = (one: Addresses[number]): Addresses =>
  current().filter(other => !(other.message === one.message && other.email === one.email))
</script>

<template>
  <section class="section paper">
    <h2>{{ t('Who gets which message') }}</h2>
    <div v-for="message in SUPPLIER_MESSAGES" :key="message" class="message">
      <b>{{ label('message', message) }}</b>
      <ul>
        <li v-for="one in addresses.filter(other => other.message === message)" :key="one.email">
          {{ one.email }}
          <span v-if="one.bouncedAt" class="tone-stop" :title="one.bounce ?? ''">{{
            t('▲ bounced: mail does not arrive there')
          }}</span>
          <ElButton link @click="emit('save', without({ message, email: one.email }))">
            {{ t('take out') }}
          </ElButton>
        </li>
        <li v-if="!addresses.some(other => other.message === message)" class="quiet">
          {{ t('goes to your first contact') }}
        </li>
      </ul>
      <form class="bar" @submit.prevent="emit('save', [...current(), { message, email: fresh[message] ?? '' }])">
        <ElInput
          v-model="fresh[message]"
          size="small"
          :placeholder="t('another address')"
          :aria-label="t('Another address for {message}', { message: label('message', message) })"
          style="width: 220px"
          :data-test="`address-${message}`"
        /><ElButton size="small" native-type="submit" :disabled="busy || !fresh[message]">{{ t('Add') }}</ElButton>
      </form>
    </div>
  </section>
</template>

<style scoped>
.bar {
  margin-top: 10px;
}
.message {
  padding: 8px 0;
  border-top: 1px solid var(--rule-light);
}
ul {
  list-style: none;
  padding: 0;
  margin: 2px 0;
}
</style>
