<script setup lang="ts">
import { ElCheckbox, ElInput, ElOption, ElSelect } from 'element-plus'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadChoices } from '#contract/request/endpoints.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import { KINDS } from '#core/request/kinds.ts'
import { ROUTES } from '#core/request/routes.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import { useSession } from '#web/people/session.ts'
import AgreedField from '#web/request/AgreedField.vue'
import { type LineProps, useLine } from '#web/request/lineFields.ts'
import type { EditedLine } from '#web/request/useDraft.ts'
import FormField from '#web/shared/FormField.vue'
import { label } from '#web/shared/words.ts'

/** What is seldom said about a line: what may happen next, its term, its category, how it is proven. */
const props = defineProps<
  LineProps & { choices: ResponseOf<typeof ReadChoices> | undefined; facts: LineFacts | undefined }
>()
const emit = defineEmits<{ change: [line: Partial<EditedLine>] }>()
const session = useSession()
const { has, place, set, setDetails, hints } = useLine(props, emit)
const toggleRoute = (route: (typeof ROUTES)[number], on: boolean): void =>
  set({ routes: on ? [...new Set([...props.line.routes, route])] : props.line.routes.filter(one => one !== route) })
</script>

<template>
  <FormField class="six" label="What may happen next" :place="place('routes')" :help="hints('routes')"
    ><ElCheckbox
      v-for="route in ROUTES"
      :key="route"
      :model-value="line.routes.includes(route)"
      :label="label('route', route)"
      :data-test="`route-${route}-${index}`"
      @change="toggleRoute(route, Boolean($event))"
  /></FormField>
  <FormField class="six" label="Why so, for the buyer"
    ><ElInput :model-value="line.routeReason" maxlength="300" @update:model-value="set({ routeReason: $event })"
  /></FormField>
  <AgreedField v-if="!line.itemId" :line="line" :index="index" @change="set" />
  <template v-if="has('incoterm')"
    ><FormField label="Incoterm" :place="place('incoterm')"
      ><ElSelect
        :model-value="line.incoterm ?? ''"
        clearable
        :value-on-clear="''"
        :placeholder="facts?.term.incoterm || 'as agreed'"
        :data-test="`incoterm-${index}`"
        @update:model-value="set({ incoterm: $event || null })"
        ><ElOption v-for="term in INCOTERMS" :key="term" :value="term" :label="term" /></ElSelect></FormField
    ><FormField class="two" label="Its place"
      ><ElInput
        :model-value="line.incotermPlace"
        :placeholder="facts?.term.place ?? ''"
        maxlength="200"
        @update:model-value="set({ incotermPlace: $event })" /></FormField
  ></template>
  <FormField v-if="!line.itemId" class="two" label="Category"
    ><ElSelect
      :model-value="line.category"
      filterable
      default-first-option
      clearable
      :value-on-clear="''"
      @update:model-value="set({ category: $event })"
      ><ElOption v-for="one in choices?.categories" :key="one" :value="one" :label="one" /></ElSelect
  ></FormField>
  <template v-if="has('maker') && !line.itemId"
    ><FormField class="two" label="Maker"
      ><ElInput
        :model-value="line.details.maker ?? ''"
        maxlength="200"
        @update:model-value="setDetails({ maker: $event })" /></FormField
    ><FormField class="two" label="Maker’s number"
      ><ElInput
        :model-value="line.details.makerNumber ?? ''"
        maxlength="100"
        @update:model-value="setDetails({ makerNumber: $event })" /></FormField
  ></template>
  <FormField
    class="two"
    label="How it is proven"
    :place="place('proof')"
    :help="session.may('proof.change') ? '' : 'Purchasing can change this.'"
    ><ElSelect
      :model-value="line.proof ?? ''"
      clearable
      :value-on-clear="''"
      :disabled="!session.may('proof.change')"
      :placeholder="facts ? label('proof', facts.proof.proof) : ''"
      @update:model-value="set({ proof: $event || null })"
      ><ElOption
        v-for="one in KINDS[line.kind].proofs"
        :key="one"
        :value="one"
        :label="label('proof', one)" /></ElSelect
  ></FormField>
</template>
