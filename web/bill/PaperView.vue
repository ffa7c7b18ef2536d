<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef } from 'vue'
import { ReadPaper } from '#contract/bill/entry.ts'
import { type PaperValue, paperValues } from '#core/bill/paperValues.ts'
import { pathOf } from '#web/api.ts'
import { MOST_PAGES, openPdf, type Paper } from '#web/bill/paper.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** A PDF or photo as it is, with what on it likely belongs into the form marked: a click says so. */
const props = defineProps<{ fileId: string }>()
const emit = defineEmits<{ take: [value: PaperValue] }>()
const paper = shallowRef<Paper>()
const photo = ref('')
const failure = ref('')
const values = shallowRef<readonly PaperValue[]>([])
const sheets = useTemplateRef<HTMLElement>('sheets')
const drawn = useTemplateRef<HTMLCanvasElement[]>('drawn')
const FAILURES: Readonly<Record<string, string>> = {
  PasswordException: 'It is locked with a password. Ask for one without.',
  InvalidPDFException: 'It is broken and cannot be shown. Ask for another.',
}
/** Drawn twice as fine as it is shown, so that small print can be read. */
const FINENESS = 2

onMounted(async () => {
  const response = await fetch(pathOf(ReadPaper, { id: props.fileId }), { credentials: 'same-origin' })
  if (!response.ok) {
    failure.value = 'The paper is not there any more. Choose it again.'
    return
  }
  const bytes = await response.blob()
  if (bytes.type.startsWith('image/')) photo.value = URL.createObjectURL(bytes)
  else await showPdf(await bytes.arrayBuffer())
})
onBeforeUnmount(() => {
  if (photo.value) URL.revokeObjectURL(photo.value)
  void paper.value?.close()
})
async function showPdf(bytes: ArrayBuffer): Promise<void> {
  try {
    paper.value = await openPdf(bytes)
  } catch (error) {
    failure.value = FAILURES[(error as Error).name] ?? 'It cannot be shown as a PDF.'
    return
  }
  values.value = paperValues(paper.value.runs)
  await nextTick()
  const width = sheets.value?.clientWidth ?? 600
  for (const [index, page] of paper.value.pages.entries()) {
    const canvas = drawn.value?.[index]
    if (canvas) await page.draw(canvas, (width / page.width) * FINENESS)
  }
}
const marks = computed(() => {
  const pages = new Map(paper.value?.pages.map(page => [page.number, page]))
  return values.value.map(value => {
    const page = pages.get(value.page)!
    const share = (part: number, whole: number): string => `${(part / whole) * 100}%`
    return {
      value,
      style: {
        left: share(value.x - 2, page.width),
        top: share(value.y - 1, page.height),
        width: share(value.width + 4, page.width),
        height: share(value.height + 4, page.height),
      },
    }
  })
})
</script>

<template>
  <section class="paper-view" aria-label="The paper" data-test="paper">
    <p v-if="failure" class="tone-stop" role="alert">{{ failure }}</p>
    <img v-if="photo" :src="photo" alt="The paper, as a picture" />
    <div v-if="paper" ref="sheets">
      <p v-if="values.length === 0" class="quiet">It has no text, as a scan has none: type what it says.</p>
      <div
        v-for="page in paper.pages"
        :key="page.number"
        class="page"
        :style="{ aspectRatio: `${page.width} / ${page.height}` }"
      >
        <canvas ref="drawn" />
        <button
          v-for="(mark, index) in marks.filter(one => one.value.page === page.number)"
          :key="index"
          type="button"
          class="mark"
          :class="mark.value.kind"
          :style="mark.style"
          :title="laterLabel('paper', mark.value.kind)"
          :aria-label="`${laterLabel('paper', mark.value.kind)}: ${mark.value.text}`"
          :data-test="`mark-${mark.value.kind}`"
          @click="emit('take', mark.value)"
        />
      </div>
      <p v-if="paper.count > MOST_PAGES" class="quiet">The first {{ MOST_PAGES }} of {{ paper.count }} pages.</p>
    </div>
  </section>
</template>

<style scoped>
.paper-view img,
canvas {
  display: block;
  width: 100%;
}
.page {
  position: relative;
  border: 1px solid var(--rule);
  margin-bottom: 12px;
  background: #fff;
}
.mark {
  position: absolute;
  border: 0;
  border-bottom: 2px solid var(--tide);
  background: color-mix(in srgb, var(--tide) 14%, transparent);
  padding: 0;
  cursor: pointer;
}
.mark:hover,
.mark:focus-visible {
  background: color-mix(in srgb, var(--tide) 34%, transparent);
}
</style>
