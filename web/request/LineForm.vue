<script setup lang="ts">
import { ElButton, ElCheckbox, ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import type { ReasonJson } from '#contract/fields.ts'
import type { ResponseOf } from '#contract/endpoint.ts'
import { FindSupplierChoices, ProposeAccounts, type ReadChoices } from '#contract/request/endpoints.ts'
import type { LineFacts } from '#contract/request/lines.ts'
import {
  changeKind,
  countsMoney,
  isWork,
  KINDS,
  LINE_KINDS,
  type LineField,
  type LineKind,
  moneyShape,
  TAX_STATUSES,
} from '#core/request/kinds.ts'
import { ROUTES } from '#core/request/routes.ts'
import { INCOTERMS } from '#core/source/defaults.ts'
import { lineAmount, formatAmount } from '#core/money/amount.ts'
import { isDecimalText } from '#core/money/decimal.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import InstalmentGrid from '#web/request/InstalmentGrid.vue'
import SplitGrid from '#web/request/SplitGrid.vue'
import type { EditedLine } from '#web/request/useDraft.ts'
import NumberField from '#web/shared/NumberField.vue'
import { amountText, day, label, priceText, unit, words } from '#web/shared/words.ts'

/** All fields of one line: only those that its kind has, with what is known beside them. */
const props = defineProps<{
  line: EditedLine
  index: number
  choices: ResponseOf<typeof ReadChoices> | undefined
  facts: LineFacts | undefined
  reasons: readonly ReasonJson[]
  base: string
}>()
const emit = defineEmits<{
  change: [line: Partial<EditedLine>]
  remove: []
  propose: []
  freight: []
  freightRequest: []
}>()
const session = useSession()
const more = ref(false)
const lost = ref<readonly LineField[]>([])
const proposals = shallowRef<ResponseOf<typeof ProposeAccounts>['lines'][number]['proposals']>([])
const foundSuppliers = shallowRef<ResponseOf<typeof FindSupplierChoices>['suppliers']>([])

const has = (field: LineField): boolean => KINDS[props.line.kind].fields.includes(field)
const at = (field: string): readonly ReasonJson[] =>
  props.reasons.filter(reason => reason.place === `lines.${props.index + 1}.${field}`)
const place = (field: string): string => `lines.${props.index + 1}.${field}`
const set = (part: Partial<EditedLine>): void => emit('change', part)
const setDetails = (part: Partial<EditedLine['details']>): void => set({ details: { ...props.line.details, ...part } })

/** The amount of kinds that have one figure: in the quantity where the line counts money, else in the price. */
const amount = computed(() => (countsMoney(props.line) ? props.line.quantity : props.line.price))
const setAmount = (value: string): void => set(countsMoney(props.line) ? { quantity: value } : { price: value })
const whole = computed(() => ({
  amount:
    isDecimalText(props.line.quantity) && isDecimalText(props.line.price) && isDecimalText(props.line.priceBase)
      ? formatAmount(
          lineAmount({
            quantity: props.line.quantity,
            price: props.line.price,
            priceBase: props.line.priceBase,
            currency: props.line.currency,
          }),
          props.line.currency,
        )
      : '0',
  quantity: props.line.quantity,
}))

function toKind(kind: LineKind): void {
  const changed = changeKind(props.line, kind, whole.value.amount === '0' ? props.line.price : whole.value.amount)
  lost.value = changed.lost
  const places = props.choices?.addresses.find(one => one.id === props.line.addressId)?.purposes ?? []
  const wanted = isWork(kind) ? 'performance' : 'delivery'
  set({ ...changed.line, addressId: places.includes(wanted) ? props.line.addressId : null })
}
const addresses = computed(
  () =>
    props.choices?.addresses.filter(one =>
      one.purposes.includes(isWork(props.line.kind) ? 'performance' : 'delivery'),
    ) ?? [],
)
const address = computed(() => props.choices?.addresses.find(one => one.id === props.line.addressId))
const suppliers = computed(() => {
  const known = foundSuppliers.value.length ? foundSuppliers.value : (props.choices?.suppliers.slice(0, 60) ?? [])
  const own = props.choices?.suppliers.find(one => one.id === props.line.supplierId)
  return own && !known.some(one => one.id === own.id) ? [own, ...known] : known
})
async function findSuppliers(q: string): Promise<void> {
  foundSuppliers.value = q.trim() ? (await api(FindSupplierChoices, { query: { q } })).suppliers : []
}
async function loadProposals(): Promise<void> {
  const project = props.choices?.accounts.find(one => one.id === props.line.splits[0]?.accountId)?.project ?? null
  proposals.value =
    (
      await api(ProposeAccounts, {
        body: {
          lines: [{ itemId: props.line.itemId, category: props.line.category, needBy: props.line.needBy, project }],
        },
      })
    ).lines[0]?.proposals ?? []
}
onMounted(() => void loadProposals())
watch(
  () => [props.line.itemId, props.line.category, props.line.needBy?.slice(0, 7)],
  () => void loadProposals(),
)
const past = (date: Date): boolean => date.getTime() < Date.now() - 86_400_000
const toggleRoute = (route: (typeof ROUTES)[number], on: boolean): void =>
  set({ routes: on ? [...new Set([...props.line.routes, route])] : props.line.routes.filter(one => one !== route) })
const setInstalments = (instalments: EditedLine['details']['instalments']): void =>
  set(moneyShape({ ...props.line, details: { ...props.line.details, instalments: instalments ?? [] } }))
</script>

<template>
  <div class="line-form" :data-test="`line-form-${index}`">
    <p v-if="lost.length" class="quiet">
      Left behind with the other kind: {{ lost.map(field => label('line field', field)).join(', ') }}.
    </p>
    <div class="fields">
      <label class="field two"
        >It is<ElSelect :model-value="line.kind" :data-test="`kind-${index}`" @update:model-value="toKind($event)"
          ><ElOption v-for="kind in LINE_KINDS" :key="kind" :value="kind" :label="label('kind wish', kind)" /></ElSelect
      ></label>
      <label class="field four" :data-place="place('description')"
        >{{ isWork(line.kind) ? 'What is to be done' : 'What'
        }}<ElInput
          :model-value="line.description"
          :disabled="line.offerId !== null"
          maxlength="300"
          :data-test="`description-${index}`"
          @update:model-value="set({ description: $event })"
        /><span v-for="one in at('description')" :key="one.code" class="field-fault">{{ words(one) }}</span></label
      >
      <label v-if="has('quantity')" class="field" :data-place="place('quantity')"
        >{{ line.kind === 'workByRate' ? 'Ceiling' : 'Quantity' }}, {{ unit(line.unit)
        }}<NumberField
          :model-value="line.quantity"
          label="Quantity"
          :data-test="`quantity-${index}`"
          @update:model-value="set({ quantity: $event })"
        /><span v-for="one in at('quantity')" :key="one.code" class="field-fault">{{ words(one) }}</span></label
      >
      <label v-if="has('expected')" class="field" :data-place="place('expected')"
        >Expected, {{ unit(line.unit)
        }}<NumberField
          :model-value="line.details.expected ?? ''"
          label="Expected"
          :data-test="`expected-${index}`"
          @update:model-value="setDetails({ expected: $event })"
        /><span v-for="one in at('expected')" :key="one.code" class="field-fault">{{ words(one) }}</span></label
      >
      <label v-if="has('unit') && !line.offerId" class="field"
        >Unit<ElSelect
          :model-value="line.unit"
          filterable
          default-first-option
          :data-test="`unit-${index}`"
          @update:model-value="set({ unit: $event })"
          ><ElOption
            v-for="one in choices?.units.filter(other => other.code !== 'M4')"
            :key="one.code"
            :value="one.code"
            :label="one.label" /></ElSelect
      ></label>
      <label v-if="has('quantity') && !line.offerId" class="field" :data-place="place('price')"
        >{{ line.kind === 'workByRate' ? 'Rate' : 'Unit price'
        }}<NumberField
          :model-value="line.price"
          label="Price"
          :data-test="`price-${index}`"
          @update:model-value="set({ price: $event })"
        /><span v-for="one in at('price')" :key="one.code" class="field-fault">{{ words(one) }}</span></label
      >
      <label v-if="!has('quantity')" class="field" :data-place="place('price')"
        >{{ line.kind === 'goodsByAmount' ? 'For at most' : line.kind === 'personalFee' ? 'Fee' : 'Amount'
        }}<NumberField
          :model-value="amount"
          label="Amount"
          :data-test="`price-${index}`"
          @update:model-value="setAmount"
        /><span v-for="one in at('price')" :key="one.code" class="field-fault">{{ words(one) }}</span></label
      >
      <label v-if="!line.offerId" class="field" :data-place="place('currency')"
        >Currency<ElSelect
          :model-value="line.currency"
          filterable
          default-first-option
          @update:model-value="set({ currency: $event })"
          ><ElOption v-for="code in choices?.currencies" :key="code" :value="code" :label="code" /></ElSelect
        ><span v-for="one in at('currency')" :key="one.code" class="field-fault">{{ words(one) }}</span></label
      >
      <p v-if="line.offerId && facts" class="offered two" :data-place="place('price')">
        <span class="quiet">from the catalogue, price as offered</span> {{ priceText(facts.price) }}
        <span class="unit">{{ facts.currency }}{{ line.priceBase === '1' ? '' : ` per ${line.priceBase}` }}</span
        ><b v-if="facts.agreement" class="tone-settled"> agreement {{ facts.agreement }}</b>
      </p>
      <label v-if="!line.offerId" class="field wide" :data-place="place('supplierId')"
        >{{ line.kind === 'personalFee' ? 'Paid to (supplier record)' : 'Supplier'
        }}<ElSelect
          :model-value="line.supplierId"
          filterable
          remote
          :remote-method="findSuppliers"
          clearable
          :value-on-clear="null"
          placeholder="part of the name"
          :data-test="`supplier-${index}`"
          @update:model-value="set({ supplierId: $event })"
          ><ElOption v-for="one in suppliers" :key="one.id" :value="one.id" :label="one.label" /></ElSelect
        ><span class="under"
          ><ElButton link :data-test="`propose-${index}`" @click.prevent="emit('propose')">
            not there? propose it</ElButton
          ><span
            v-for="one in at('supplierId')"
            :key="one.code"
            :class="one.level === 'stop' ? 'field-fault' : 'quiet'"
            >{{ words(one) }}</span
          ></span
        ></label
      >
      <label class="field two" :data-place="place('needBy')" :data-test="`need-by-${index}`"
        >Needed by<ElDatePicker
          :model-value="line.needBy ?? ''"
          type="date"
          value-format="YYYY-MM-DD"
          format="D MMM YYYY"
          :disabled-date="past"
          aria-label="Needed by"
          @update:model-value="set({ needBy: $event || null })"
        /><span
          v-if="facts?.earliest"
          class="hint"
          :class="{ 'tone-attention': line.needBy && line.needBy < facts.earliest }"
          >realistic from {{ day(facts.earliest) }}</span
        ><span
          v-for="one in at('needBy').filter(other => other.level === 'stop')"
          :key="one.code"
          class="field-fault"
          >{{ words(one) }}</span
        ></label
      >
      <label class="field four" :data-place="place('addressId')"
        >{{ isWork(line.kind) ? 'Done at' : 'Deliver to'
        }}<ElSelect
          :model-value="line.addressId"
          filterable
          default-first-option
          placeholder="site, dock, place, street"
          :data-test="`address-${index}`"
          @update:model-value="set({ addressId: $event })"
          ><ElOption v-for="one in addresses" :key="one.id" :value="one.id" :label="`${one.label} (${one.detail})`"
            ><span>{{ one.label }}</span> <span class="quiet">{{ one.detail }}</span></ElOption
          ><template #label>{{ address?.label }}</template></ElSelect
        ><span v-if="address" class="hint">{{ address.detail }}</span
        ><span v-for="one in at('addressId')" :key="one.code" class="field-fault">{{ words(one) }}</span></label
      >
      <label v-if="has('deliverable')" class="field six"
        >What is delivered at the end<ElInput
          :model-value="line.details.deliverable ?? ''"
          type="textarea"
          :rows="1"
          autosize
          maxlength="4000"
          @update:model-value="setDetails({ deliverable: $event })"
      /></label>
      <div v-if="has('instalments')" class="six">
        <InstalmentGrid
          :model-value="line.details.instalments ?? []"
          :amount="amount"
          :currency="line.currency"
          :index="index"
          @update:model-value="setInstalments([...$event])"
        /><span v-for="one in at('instalments')" :key="one.code" class="field-fault">{{ words(one) }}</span>
      </div>
      <template v-if="has('person')"
        ><label class="field wide" :data-place="place('person')"
          >Who is paid<ElInput
            :model-value="line.details.person?.name ?? ''"
            maxlength="200"
            :data-test="`person-${index}`"
            @update:model-value="
              setDetails({ person: { taxStatus: '', taxNumber: '', ...line.details.person, name: $event } })
            "
        /></label>
        <label class="field"
          >Taxed as<ElSelect
            :model-value="line.details.person?.taxStatus ?? ''"
            :data-test="`tax-${index}`"
            @update:model-value="
              setDetails({ person: { name: '', taxNumber: '', ...line.details.person, taxStatus: $event } })
            "
            ><ElOption
              v-for="status in TAX_STATUSES"
              :key="status"
              :value="status"
              :label="label('tax status', status)" /></ElSelect
        ></label>
        <label class="field two"
          >Tax number, if known<ElInput
            :model-value="line.details.person?.taxNumber ?? ''"
            maxlength="60"
            @update:model-value="
              setDetails({ person: { name: '', taxStatus: '', ...line.details.person, taxNumber: $event } })
            "
        /></label>
        <p class="six quiet">
          Only you, those who decide, and those with the right to personal data see who it is.<span
            v-for="one in at('person')"
            :key="one.code"
            class="field-fault"
          >
            {{ words(one) }}</span
          >
        </p></template
      >
    </div>
    <p v-if="facts?.offerNow" class="reasons check">
      The offer {{ facts.offerNow.endedOn ? `ended on ${day(facts.offerNow.endedOn)}` : 'has changed' }}: this line
      keeps {{ priceText(facts.offerNow.kept)
      }}<template v-if="facts.offerNow.now"
        >, it now says {{ priceText(facts.offerNow.now) }}.
        <ElButton link :data-test="`refresh-${index}`" @click="set({ refresh: true })">
          Take the price of today
        </ElButton></template
      >.
    </p>
    <p v-if="facts?.freightWanted" class="reasons check" :data-place="place('freight')">
      {{ facts.term.incoterm }} {{ facts.term.place }} leaves carriage to us.
      <ElButton
        link
        :data-test="`freight-own-${index}`"
        @click="
          () => {
            set({ freight: 'own' })
            emit('freight')
          }
        "
      >
        Add a line for it</ElButton
      >,
      <ElButton
        link
        :data-test="`freight-request-${index}`"
        @click="
          () => {
            set({ freight: 'own' })
            emit('freightRequest')
          }
        "
      >
        make a request of its own</ElButton
      >, <ElButton link @click="set({ freight: 'included' })">it is in the price</ElButton>, or
      <ElButton link :data-test="`freight-none-${index}`" @click="set({ freight: 'notWanted' })">
        we collect it ourselves</ElButton
      >.
    </p>
    <div class="pays">
      <h4>Who pays</h4>
      <SplitGrid
        :splits="line.splits as { accountId: string; share: string }[]"
        :by="line.splitBy"
        :accounts="choices?.accounts ?? []"
        :proposals="proposals"
        :whole="whole"
        :index="index"
        @update:splits="set({ splits: $event })"
        @update:by="set({ splitBy: $event })"
      /><span v-for="(one, key) in at('splits')" :key="key" :class="one.level === 'stop' ? 'field-fault' : 'quiet'">{{
        words(one)
      }}</span>
    </div>
    <p class="summary">
      <ElButton link :aria-expanded="more" :data-test="`more-${index}`" @click="more = !more">
        {{ more ? 'less' : 'more' }}
      </ElButton>
      <span class="quiet"
        >{{ line.routes.map(route => label('route', route)).join(' or ') || 'nothing may happen next'
        }}<template v-if="facts"
          >; {{ label('proof', facts.proof.proof)
          }}<template v-if="facts.proof.from !== 'kind'"> ({{ label('proof from', facts.proof.from) }})</template
          ><template v-if="facts.term.incoterm"
            >; {{ facts.term.incoterm }} {{ facts.term.place }} ({{ label('term from', facts.term.from) }})</template
          ></template
        ></span
      >
      <span v-if="facts && facts.currency !== base" class="rate"
        >{{ amountText(facts.amount) }} {{ facts.currency }} = {{ amountText(facts.baseAmount) }} {{ base
        }}<span class="quiet"> at {{ facts.rate ?? 'no rate' }}</span></span
      >
      <ElButton link class="out" :data-test="`remove-${index}`" @click="emit('remove')"> take the line out </ElButton>
    </p>
    <div v-if="more" class="fields extra">
      <div class="six routes" :data-place="place('routes')">
        <span class="quiet">What may happen next</span
        ><ElCheckbox
          v-for="route in ROUTES"
          :key="route"
          :model-value="line.routes.includes(route)"
          :label="label('route', route)"
          :data-test="`route-${route}-${index}`"
          @change="toggleRoute(route, Boolean($event))"
        /><span v-for="(one, key) in at('routes')" :key="key" :class="one.level === 'stop' ? 'field-fault' : 'quiet'">{{
          words(one)
        }}</span>
      </div>
      <label class="field six"
        >Why so, for the buyer<ElInput
          :model-value="line.routeReason"
          maxlength="300"
          @update:model-value="set({ routeReason: $event })"
      /></label>
      <template v-if="has('incoterm')"
        ><label class="field" :data-place="place('incoterm')"
          >Incoterm<ElSelect
            :model-value="line.incoterm ?? ''"
            clearable
            :value-on-clear="''"
            :placeholder="facts?.term.incoterm || 'as agreed'"
            :data-test="`incoterm-${index}`"
            @update:model-value="set({ incoterm: $event || null })"
            ><ElOption v-for="term in INCOTERMS" :key="term" :value="term" :label="term" /></ElSelect
        ></label>
        <label class="field two"
          >Its place<ElInput
            :model-value="line.incotermPlace"
            :placeholder="facts?.term.place"
            maxlength="200"
            @update:model-value="set({ incotermPlace: $event })" /></label
      ></template>
      <span v-for="one in at('incoterm')" :key="one.code" class="field-fault six">{{ words(one) }}</span>
      <label v-if="!line.itemId" class="field two"
        >Category<ElSelect
          :model-value="line.category"
          filterable
          default-first-option
          clearable
          :value-on-clear="''"
          @update:model-value="set({ category: $event })"
          ><ElOption v-for="one in choices?.categories" :key="one" :value="one" :label="one" /></ElSelect
      ></label>
      <template v-if="has('maker') && !line.itemId"
        ><label class="field two"
          >Maker<ElInput
            :model-value="line.details.maker ?? ''"
            maxlength="200"
            @update:model-value="setDetails({ maker: $event })" /></label
        ><label class="field two"
          >Maker’s number<ElInput
            :model-value="line.details.makerNumber ?? ''"
            maxlength="100"
            @update:model-value="setDetails({ makerNumber: $event })" /></label
      ></template>
      <label class="field two" :data-place="place('proof')"
        >How it is proven<ElSelect
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
        ><span v-if="!session.may('proof.change')" class="hint">Purchasing can change this.</span></label
      >
    </div>
  </div>
</template>

<style scoped>
.line-form {
  padding: 6px 0 14px 30px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(6, minmax(0, 1fr));
  gap: 8px 12px;
  margin: 6px 0;
  align-items: start;
}
.two {
  grid-column: span 2;
}
.wide {
  grid-column: span 3;
}
.four {
  grid-column: span 4;
}
.six {
  grid-column: 1 / -1;
}
.fields :deep(.el-date-editor) {
  width: 100%;
}
.hint {
  font-size: 11.5px;
}
.fields :deep(.el-select) {
  width: 100%;
}
.offered {
  align-self: end;
  padding-bottom: 6px;
}
.under {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
}
.pays {
  margin-top: 8px;
}
h4 {
  margin: 0 0 4px;
  font: 500 12px var(--sans);
  color: var(--ink-quiet);
}
.summary {
  display: flex;
  gap: 12px;
  flex-wrap: wrap;
  font-size: 12px;
  margin-top: 8px;
}
.out {
  margin-left: auto;
}
.routes {
  display: flex;
  gap: 4px 16px;
  flex-wrap: wrap;
  align-items: center;
  font-size: 12px;
}
.extra {
  border-top: 1px solid var(--rule-light);
  padding-top: 8px;
}
@media (max-width: 700px) {
  .line-form {
    padding-left: 0;
    min-width: 0;
  }
  .fields {
    grid-template-columns: repeat(2, minmax(0, 1fr));
  }
  .two,
  .wide,
  .four {
    grid-column: span 2;
  }
}
</style>
