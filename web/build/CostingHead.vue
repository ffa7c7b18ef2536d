<script setup lang="ts">
import { ElButton, ElInputNumber, ElSlider } from 'element-plus'
import { computed } from 'vue'
import { MOST_BUILDS } from '#core/build/settings.ts'
import { curveEnd, settingsSentence } from '#web/build/costingText.ts'
import type { ShownCosting } from '#web/build/costingWorker.ts'
import type { Costing, Settings } from '#web/build/useCosting.ts'
import { amountText, day } from '#web/shared/words.ts'

/** What the build costs, how many are built, and how it is bought as a sentence of which every part can be changed. */
const props = defineProps<{
  costing: Costing
  settings: Settings
  shown: ShownCosting | undefined
  builds: number
  mayChange: boolean
}>()
const emit = defineEmits<{ move: [builds: number]; settings: [about: string] }>()
const said = computed(() => settingsSentence(props.settings, props.costing.known))
const end = computed(() => curveEnd(props.settings.builds))
const deepest = computed(() => {
  const depths: number[] = []
  for (const [at, { parent }] of props.costing.lines.entries())
    depths[at] = parent === null || parent >= at ? 1 : depths[parent]! + 1
  return Math.max(1, ...depths)
})
const moved = (value: number | number[] | undefined): void => {
  if (typeof value === 'number' && value >= 1 && value !== props.builds) emit('move', Math.round(value))
}
</script>

<template>
  <p class="quiet">
    <RouterLink to="/source/builds">← Build costings</RouterLink>
    <b> {{ costing.number }}</b>, {{ costing.title }}: {{ shown?.figures.parts ?? costing.lines.length }} parts on
    {{ deepest }} {{ deepest === 1 ? 'level' : 'levels' }}, priced {{ day(costing.pricedOn) }}
    <template v-if="costing.state === 'putAway'">, <b>put away</b></template>
  </p>
  <h1 data-test="costing-title">
    <template v-if="shown"
      >{{ settings.currency }} {{ amountText(shown.figures.each) }} a build, {{ settings.currency }}
      {{ amountText(shown.figures.total) }} for {{ amountText(String(shown.figures.builds)) }}</template
    ><template v-else>Reckoning …</template>
  </h1>
  <p class="builds">
    <label for="builds">Builds</label>
    <ElInputNumber
      id="builds"
      :model-value="builds"
      :min="1"
      :max="MOST_BUILDS"
      :step-strictly="true"
      :controls="false"
      aria-label="Builds"
      data-test="builds"
      @update:model-value="moved"
    />
    <ElSlider
      class="slider"
      :model-value="Math.min(builds, end)"
      :min="1"
      :max="end"
      :show-tooltip="false"
      aria-label="Builds, by slider"
      data-test="builds-slider"
      @input="moved"
    />
    <span class="quiet">1 … {{ end }}<template v-if="!mayChange">, tried here only</template></span>
  </p>
  <p class="said" data-test="costing-said">
    <template v-for="part in said" :key="part.about"
      >{{ `${part.before} `
      }}<template v-if="part.text"
        ><ElButton link class="part" :data-test="`said-${part.about}`" @click="emit('settings', part.about)">{{
          part.text
        }}</ElButton></template
      ></template
    >.
  </p>
</template>

<style scoped>
h1 {
  margin: 4px 0;
}
.builds {
  display: flex;
  align-items: center;
  gap: 14px;
  margin: 4px 0;
}
.builds :deep(.el-input-number) {
  width: 90px;
}
.slider {
  max-width: 420px;
  flex: 1;
}
.said {
  max-width: 900px;
  margin: 6px 0 10px;
}
.part {
  display: inline;
  white-space: normal;
  vertical-align: baseline;
  border-bottom: 1px dotted var(--tide);
}
@media (max-width: 700px) {
  .builds {
    flex-wrap: wrap;
  }
}
</style>
