<script setup lang="ts">
import { ElButton, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus'
import type { BodyOf } from '#contract/endpoint.ts'
import type { SaveEventKind } from '#contract/source/eventKinds.ts'
import { isReminder, MESSAGE_MOMENTS, MESSAGE_READERS } from '#core/source/eventMessages.ts'
import { laterLabel } from '#web/shared/laterWords.ts'
import { newKey } from '#web/setup/newKey.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'

/** What goes out to suppliers by itself, and when. */
const settings = defineModel<BodyOf<typeof SaveEventKind>['settings']>({ required: true })
const add = (): void =>
  void settings.value.messages.push({ key: newKey(), moment: 'beforeEnd', hours: 24, to: 'silent', words: { en: '' } })
/** Quote requests open as they are sent. */
const moments = (): readonly (typeof MESSAGE_MOMENTS)[number][] =>
  settings.value.format === 'auction' ? MESSAGE_MOMENTS : MESSAGE_MOMENTS.filter(one => one !== 'beforeOpening')
</script>

<template>
  <h3>Mails that go out by themselves</h3>
  <p class="quiet">
    What is asked, a moved end, news for all and the outcome are told in any case. When the end moves, these go by the
    new one.
  </p>
  <LineTable
    v-if="settings.messages.length"
    :rows="settings.messages"
    :columns="lineColumns({ moment: 'When', to: 'To', words: 'Says', '-acts': 'Acts' })"
    label="Mails that go out by themselves"
    :key-of="one => one.key"
    ><template #moment="{ row: one, index }"
      ><ElInputNumber
        v-if="one.moment !== 'atEnd'"
        v-model="one.hours"
        class="hours"
        :min="1"
        :max="2160"
        :controls="false"
        :aria-label="`Hours before, mail ${index + 1}`"
        :data-place="`messages.${index}.hours`" /><ElSelect
        v-model="one.moment"
        class="moment"
        :aria-label="`When, mail ${index + 1}`"
        :data-place="`messages.${index}.moment`"
        ><ElOption
          v-for="moment in moments()"
          :key="moment"
          :value="moment"
          :label="laterLabel('message moment', moment)" /></ElSelect
    ></template>
    <template #to="{ row: one, index }"
      ><ElSelect v-model="one.to" class="to" :aria-label="`To whom, mail ${index + 1}`"
        ><ElOption
          v-for="to in MESSAGE_READERS"
          :key="to"
          :value="to"
          :label="laterLabel('message reader', to)" /></ElSelect
    ></template>
    <template #words="{ row: one, index }"
      ><ElInput
        v-model="one.words.en"
        :placeholder="isReminder(one) ? 'only that an answer is missing' : 'English'"
        :aria-label="`English words of mail ${index + 1}`"
        :data-place="`messages.${index}.words`"
        data-test="message-words" /><ElInput
        v-model="one.words.de"
        class="words"
        placeholder="German"
        :aria-label="`German words of mail ${index + 1}`"
    /></template>
    <template #acts="{ index }"
      ><ElButton link @click="settings.messages.splice(index, 1)">take out</ElButton></template
    ></LineTable
  >
  <p class="bar"><ElButton link data-test="add-message" @click="add">Add a mail</ElButton></p>
</template>

<style scoped>
h3 {
  margin: 14px 0 4px;
}
.hours {
  width: 64px;
  margin-right: 6px;
}
.moment {
  width: 180px;
}
.to {
  width: 210px;
}
.words {
  margin-top: 4px;
}
</style>
