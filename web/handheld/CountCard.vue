<script setup lang="ts">
import { ElButton, ElInput } from 'element-plus'
import { computed, nextTick, ref, watch } from 'vue'
import { say } from '#contract/messages/say.ts'
import { Decimal, isHeldDecimal } from '#core/money/decimal.ts'
import type { DeviceAct, KeptAct } from '#core/receive/handheld.ts'
import { readScan, type Scan } from '#core/receive/scan.ts'
import { readSerials } from '#core/receive/serials.ts'
import { unitLabel } from '#core/units/units.ts'
import { FILE_LIMIT } from '#contract/files/endpoints.ts'
import type { Line, LoadedDock, Photo } from '#web/handheld/device.ts'
import FileField from '#web/shared/FileField.vue'
import { signal } from '#web/handheld/signals.ts'

/** One line in the hand: how many, and of each piece its tag and serial number. */
const props = defineProps<{
  line: Line
  open: string
  dock: LoadedDock
  scan: Scan | undefined
  acts: readonly KeptAct[]
}>()
const emit = defineEmits<{ count: [act: Omit<DeviceAct, 'key' | 'sequence'>, photos: Photo[]]; leave: [] }>()
const photos = ref<Photo[]>([])
async function shot(files: readonly File[]): Promise<void> {
  const large = files.filter(file => file.size > FILE_LIMIT)
  fault.value = large.length > 0 ? 'A photo is larger than 25 MB: take it smaller.' : ''
  if (large.length > 0) signal('stop')
  for (const file of files.filter(one => !large.includes(one)))
    photos.value.push({ name: file.name, type: file.type, bytes: await file.arrayBuffer() })
}
const quantity = ref(props.scan?.count ?? (props.scan?.serial || props.line.blind ? '1' : props.open))
const again = ref('')
const batch = ref(props.scan?.batch ?? '')
const bestBefore = ref(props.scan?.bestBefore ?? '')
const bin = ref('')
const note = ref('')
const unit = ref(props.line.unit)
const damaged = ref(false)
const reason = ref('')
const serials = ref(props.scan?.serial ?? '')
const pieces = ref<{ tag: string; serial: string }[]>([])
const fault = ref('')
const at = ref(0)
const isAsset = computed(() => props.line.becomes === 'asset')
const count = computed(() =>
  isHeldDecimal(quantity.value) && new Decimal(quantity.value).gt(0)
    ? new Decimal(quantity.value).ceil().toNumber()
    : 0,
)
const MOST_PIECES = 200
/** The tag that comes next, after those that this device gave and has not sent. */
const nextTag = computed(() => {
  const first = props.dock.nextTags[props.line.tagRange] ?? null
  if (first === null) return (): string => ''
  const [, head = '', digits = ''] = /^(.*?)(\d+)$/.exec(first) ?? []
  const given = props.acts.filter(act => act.state === 'kept').flatMap(act => act.pieces.map(piece => piece.tag))
  return (index: number): string =>
    head +
    String(Number(digits) + given.filter(tag => tag.startsWith(head)).length + index).padStart(digits.length, '0')
})
watch(
  [count, isAsset],
  () => {
    if (!isAsset.value) return
    const many = Math.min(count.value, MOST_PIECES)
    pieces.value = Array.from(
      { length: many },
      (_, index) =>
        pieces.value[index] ?? { tag: nextTag.value(index), serial: index === 0 ? (props.scan?.serial ?? '') : '' },
    )
    at.value = Math.min(at.value, Math.max(0, many - 1))
  },
  { immediate: true },
)
const over = computed(
  () =>
    !props.line.blind &&
    unit.value === props.line.unit &&
    isHeldDecimal(quantity.value) &&
    new Decimal(quantity.value).gt(props.open),
)
const step = (by: number): void => {
  quantity.value = Decimal.max(0, new Decimal(isHeldDecimal(quantity.value) ? quantity.value : 0).plus(by)).toString()
}
function serialTyped(): void {
  const piece = pieces.value[at.value]
  if (!piece) return
  piece.serial = readScan(piece.serial).serial ?? piece.serial.trim()
  signal('done')
  if (at.value < pieces.value.length - 1) {
    at.value++
    void nextTick(() => document.querySelector<HTMLInputElement>('.serial input')?.focus())
  }
}
function whyNot(): string {
  if (count.value === 0) return 'Say how many.'
  if (props.line.batch === 'must' && batch.value.trim() === '') return say('receive.needsBatch')
  if (props.line.bestBefore === 'must' && bestBefore.value === '') return say('receive.needsBestBefore')
  const told = isAsset.value
    ? pieces.value.map(piece => piece.serial).filter(Boolean)
    : readSerials(serials.value).serials
  if (new Set(told.map(one => one.toUpperCase())).size !== told.length) return 'A serial number stands here twice.'
  const tags = pieces.value.map(piece => piece.tag.toUpperCase()).filter(Boolean)
  if (new Set(tags).size !== tags.length) return 'A tag stands here twice.'
  if (over.value && reason.value.trim().length < 3) return 'More than is expected: say why it is kept.'
  return ''
}
function go(): void {
  fault.value = whyNot()
  if (fault.value) return signal('stop')
  const told = isAsset.value ? [] : [...readSerials(serials.value).serials]
  emit(
    'count',
    {
      madeAt: new Date().toISOString(),
      personId: props.dock.person.id,
      orderId: props.line.orderId,
      placeId: props.dock.placeId,
      pieces: isAsset.value ? pieces.value.map(piece => ({ ...piece })) : [],
      note: note.value,
      checkReason: reason.value,
      ...(props.line.despatchId ? { despatchId: props.line.despatchId } : {}),
      count: {
        lineId: props.line.lineId,
        quantity: quantity.value,
        ...(unit.value === props.line.unit ? {} : { unit: unit.value }),
        ...(batch.value.trim() ? { batch: batch.value.trim() } : {}),
        ...(bestBefore.value ? { bestBefore: bestBefore.value } : {}),
        ...(bin.value.trim() ? { bin: bin.value.trim() } : {}),
        ...(damaged.value ? { condition: 'damaged' as const } : {}),
        ...(told.length > 0 ? { serials: told } : {}),
        ...(again.value ? { again: again.value } : {}),
      },
    },
    photos.value.map(photo => ({ ...photo })),
  )
}
</script>

<template>
  <article class="card" data-test="card">
    <p class="quiet">{{ line.order }}, line {{ line.position }}</p>
    <h1>{{ line.description }}</h1>
    <p>
      {{ line.supplier }}.
      <template v-if="!line.blind">{{ line.ordered }} {{ unitLabel(line.unit) }} ordered, {{ open }} open. </template
      ><template v-if="isAsset">Each gets a tag{{ line.serial === 'no' ? '' : ' and its serial number' }}.</template>
    </p>
    <div class="stepper">
      <ElButton size="large" aria-label="One less" @click="step(-1)">−</ElButton
      ><ElInput v-model="quantity" inputmode="decimal" aria-label="How many" data-test="quantity" /><ElButton
        size="large"
        aria-label="One more"
        @click="step(1)"
        >+</ElButton
      >
    </div>
    <p v-if="line.units.length > 1" class="units">
      <ElButton
        v-for="one in line.units"
        :key="one"
        size="large"
        :type="unit === one ? 'primary' : undefined"
        @click="unit = one"
        >{{ unitLabel(one) }}</ElButton
      >
    </p>
    <ElInput
      v-if="line.blind"
      v-model="again"
      size="large"
      inputmode="decimal"
      placeholder="Counted a second time"
      aria-label="Counted a second time"
    />
    <template v-if="isAsset && pieces[at]"
      ><p class="piece" data-test="piece-of">Piece {{ at + 1 }} of {{ pieces.length }}</p>
      <ElInput v-model="pieces[at]!.tag" size="large" placeholder="Our tag" aria-label="Our tag" data-test="tag" />
      <small v-if="pieces[at]!.tag && pieces[at]!.tag === nextTag(at)" class="good"
        >our tag, the next of the roll</small
      >
      <ElInput
        v-model="pieces[at]!.serial"
        class="serial"
        size="large"
        placeholder="Serial number: scan or type"
        aria-label="Serial number"
        data-test="serial"
        @keydown.enter.prevent="serialTyped"
      />
      <p class="units">
        <ElButton size="large" :disabled="at === 0" @click="at--">Back</ElButton
        ><ElButton size="large" :disabled="at >= pieces.length - 1" data-test="next-piece" @click="serialTyped"
          >Next piece</ElButton
        >
      </p></template
    >
    <ElInput
      v-else-if="line.serial !== 'no'"
      v-model="serials"
      type="textarea"
      :rows="2"
      placeholder="Serial numbers: scan one after the other"
      aria-label="Serial numbers"
      data-test="serials"
    />
    <ElInput
      v-if="line.batch !== 'no' || batch"
      v-model="batch"
      size="large"
      placeholder="Batch"
      aria-label="Batch"
      data-test="batch"
    />
    <ElInput
      v-if="line.bestBefore !== 'no' || bestBefore"
      v-model="bestBefore"
      size="large"
      type="date"
      aria-label="Best before"
    />
    <p class="units">
      <ElButton size="large" :type="damaged ? 'danger' : undefined" data-test="damaged" @click="damaged = !damaged"
        >Damaged</ElButton
      ><FileField
        :label="photos.length ? `${photos.length} photos, another one` : 'Photo'"
        accept="image/*"
        multiple
        camera
        mark="photo"
        @choose="shot"
      />
    </p>
    <ElInput v-model="bin" size="large" placeholder="Bin" aria-label="Bin" />
    <ElInput v-model="note" size="large" placeholder="Note" aria-label="Note" />
    <ElInput
      v-if="over"
      v-model="reason"
      size="large"
      placeholder="Why more is kept"
      aria-label="Why more is kept"
      data-test="over-reason"
    />
    <p v-if="fault" class="stop" role="alert">{{ fault }}</p>
    <ElButton class="go" size="large" type="primary" data-test="count" @click="go"
      >Count {{ quantity || '0' }} in</ElButton
    >
    <p class="quiet small">kept on this device until the line is back; it counts once</p>
    <ElButton class="leave" size="large" text @click="emit('leave')">Leave it</ElButton>
  </article>
</template>
