<script setup lang="ts">
import { ElButton } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { LookAtAnswerFile } from '#contract/source/asked.ts'
import { t } from '#web/shared/language.ts'
import LineTable from '#web/shared/LineTable.vue'
import { lineColumns } from '#web/shared/lineTable.ts'
import { words } from '#web/shared/words.ts'

/** What a filled workbook or a quotation would change, before anything is taken. */
defineProps<{ looked: ResponseOf<typeof LookAtAnswerFile> }>()
const emit = defineEmits<{ take: []; leave: [] }>()
</script>

<template>
  <section class="reasons note" data-test="file-differences">
    <strong>{{ looked.differences.length ? t('The file changes this') : t('The file changes nothing') }}</strong>
    <LineTable
      v-if="looked.differences.length"
      :rows="looked.differences"
      :columns="lineColumns({ line: t('Line'), field: t('Field'), '~before': t('So far'), after: t('New') })"
      :label="t('Differences')"
      ><template #line="{ row }">{{ row.line }}</template
      ><template #field="{ row }">{{ row.field }}</template>
      <template #before="{ row }">{{ row.before || '–' }}</template><template #after="{ row }">{{
        row.after
      }}</template></LineTable
    >
    <p v-for="one in looked.left" :key="one.row + one.code">
      {{ t('Row {row} is left:', { row: one.row }) }} {{ words(one) }}
    </p>
    <p class="bar">
      <ElButton v-if="looked.differences.length" type="primary" data-test="take-file" @click="emit('take')">{{
        t('Take it over')
      }}</ElButton><ElButton @click="emit('leave')">{{ t('Leave it') }}</ElButton>
    </p>
  </section>
</template>
