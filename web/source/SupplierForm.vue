<script setup lang="ts">
import { ElButton, ElCheckbox, ElDatePicker, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AskForShared, ChangeSupplier, CreateSupplier } from '#contract/source/endpoints.ts'
import { ListCategories } from '#contract/source/onboarding.ts'
import {
  CONTACT_ROLES,
  EMPTY_SUPPLIER,
  LOCATION_ROLES,
  SIZES,
  type SupplierBody,
  TAX_STATUSES,
} from '#contract/source/record.ts'
import { HOUSE_DEFAULTS, TAX_CATEGORIES } from '#core/source/defaults.ts'
import { IDENTIFIER_SCHEMES } from '#core/source/schemes.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { label, words } from '#web/shared/words.ts'
import CandidateList from '#web/source/CandidateList.vue'
import DefaultsFields from '#web/source/DefaultsFields.vue'
import { useCandidates } from '#web/source/useCandidates.ts'

/** A supplier's record as a form. Beside a new one stand the records that may be it already. */
const props = defineProps<{ supplier?: SupplierBody; id?: string; version?: number }>()
const emit = defineEmits<{ saved: []; leave: [] }>()
const router = useRouter()
const session = useSession()
const { busy, reasons, run, at, clear } = useAction()
const START: SupplierBody = {
  ...EMPTY_SUPPLIER,
  identifiers: [{ scheme: 'vat', value: '' }],
  locations: [
    {
      name: 'Head office',
      street: '',
      postalCode: '',
      city: '',
      country: '',
      phone: '',
      roles: ['takesOrders', 'invoices', 'shipsFrom', 'paidAt'],
      defaults: {},
    },
  ],
  contacts: [{ name: '', email: '', phone: '', language: 'en', roles: ['orders'] }],
}
const form = reactive<SupplierBody>(JSON.parse(JSON.stringify(props.supplier ?? START)) as SupplierBody)
const account = ref('')
const choices = shallowRef<ResponseOf<typeof ListCategories>>()
const asking = ref(false)
const asked = ref(false)
onMounted(async () => {
  choices.value = await api(ListCategories)
})

const place = computed(() => form.locations[0])
const found = useCandidates(() => ({
  name: props.id ? '' : form.name,
  country: /^[A-Z]{2}$/.test(place.value?.country ?? '') ? place.value!.country : '',
  postalCode: place.value?.postalCode ?? '',
  city: place.value?.city ?? '',
  street: place.value?.street ?? '',
  web: props.id ? '' : form.web,
  iban: account.value,
  identifiers: props.id ? [] : form.identifiers.filter(one => one.value.trim() !== ''),
  except: props.id ?? null,
}))
const shared = computed(() => reasons.value.some(reason => reason.code === 'source.shared'))

function body(): SupplierBody {
  return {
    ...form,
    tradeNames: form.tradeNames.map(one => one.trim()).filter(Boolean),
    identifiers: form.identifiers.filter(one => one.value.trim() !== ''),
    locations: form.locations.filter(one => one.country !== '' || one.city !== '' || one.street !== ''),
    contacts: form.contacts.filter(one => one.name !== '' || one.email !== ''),
  }
}
async function save(): Promise<void> {
  const done = await run(() =>
    props.id
      ? api(ChangeSupplier, { params: { id: props.id }, body: { ...body(), version: props.version ?? 1 } })
      : api(CreateSupplier, { body: { ...body(), ...(account.value.trim() ? { iban: account.value } : {}) } }),
  )
  if (!done) return
  emit('saved')
  if (!props.id) await router.push(`/source/${done.id}`)
}
async function askForShared(reason: string): Promise<void> {
  if (
    !(await run(() =>
      api(AskForShared, {
        body: { supplier: { ...body(), ...(account.value.trim() ? { iban: account.value } : {}) }, reason },
      }),
    ))
  )
    return
  asking.value = false
  asked.value = true
}
function setKind(kind: 'company' | 'person'): void {
  form.kind = kind
  form.person = kind === 'person' ? (form.person ?? { birthDate: '', taxStatus: 'selfEmployed', nationalId: '' }) : null
}
function toggle<T>(list: T[], value: T): void {
  const index = list.indexOf(value)
  if (index < 0) list.push(value)
  else list.splice(index, 1)
}
const house = computed(() => ({ ...HOUSE_DEFAULTS, currency: session.base }))
</script>

<template>
  <div class="two" :class="{ single: !!id }">
    <form class="form" @submit.prevent="save">
      <h1>{{ id ? 'Change the supplier' : 'A new supplier' }}</h1>
      <div v-if="asked" class="reasons note" role="status" data-test="asked">
        A second person has been asked. When somebody agrees, the record is made; it then stands in the list.
        <RouterLink to="/source">Back to the suppliers</RouterLink>
      </div>
      <div class="names">
        <label class="field" data-place="name"
          >Name<ElInput v-model="form.name" maxlength="300" data-test="supplier-name" autofocus
        /></label>
        <label class="field"
          >Company or person<ElSelect :model-value="form.kind" data-test="supplier-kind" @update:model-value="setKind"
            ><ElOption value="company" label="a company" /><ElOption
              value="person"
              label="a person paid a fee" /></ElSelect
        ></label>
      </div>
      <p v-for="one in found.notes" :key="one.code" class="quiet proposal">
        {{ words(one) }}
        <ElButton link data-test="take-name" @click="form.name = String(one.details.proposal)"> Take it </ElButton>
      </p>
      <section class="section">
        <h2>Locations</h2>
        <div v-for="(one, index) in form.locations" :key="index" class="block">
          <div class="form-grid">
            <label>Name<ElInput v-model="one.name" /></label
            ><label>Street<ElInput v-model="one.street" data-test="street" /></label
            ><label>Postcode<ElInput v-model="one.postalCode" data-test="postcode" /></label
            ><label>Place<ElInput v-model="one.city" data-test="city" /></label
            ><label
              >Country, two letters<ElInput
                v-model="one.country"
                maxlength="2"
                data-test="country"
                @blur="one.country = one.country.toUpperCase()" /></label
            ><label>Telephone<ElInput v-model="one.phone" /></label>
          </div>
          <p class="bar">
            <ElCheckbox
              v-for="role in LOCATION_ROLES"
              :key="role"
              :model-value="one.roles.includes(role)"
              :label="label('location role', role)"
              @change="toggle(one.roles, role)"
            /><ElButton link @click="form.locations.splice(index, 1)">take out</ElButton>
          </p>
          <details :open="Object.keys(one.defaults).length > 0">
            <summary>Defaults of this location</summary>
            <DefaultsFields
              v-model="one.defaults"
              :above="[
                ['house', house],
                ['supplier', form.defaults],
              ]"
              level="location"
              :place="`locations.${index}.defaults`"
            />
          </details>
        </div>
        <ElButton
          link
          @click="
            form.locations.push({
              name: '',
              street: '',
              postalCode: '',
              city: '',
              country: '',
              phone: '',
              roles: [],
              defaults: {},
            })
          "
        >
          Add a location
        </ElButton>
      </section>
      <section class="section">
        <h2>Numbers</h2>
        <div
          v-for="(one, index) in form.identifiers"
          :key="index"
          class="line"
          :data-place="`identifiers.${index}.value`"
        >
          <ElSelect v-model="one.scheme" aria-label="Kind of number" style="width: 180px"
            ><ElOption
              v-for="scheme in IDENTIFIER_SCHEMES"
              :key="scheme"
              :value="scheme"
              :label="label('scheme', scheme)" /></ElSelect
          ><ElInput v-model="one.value" aria-label="Number" data-test="identifier" /><ElButton
            link
            @click="form.identifiers.splice(index, 1)"
          >
            take out</ElButton
          ><span v-for="reason in at(`identifiers.${index}.value`)" :key="reason.code" class="field-fault">{{
            reason.code === 'source.shared' ? 'another record has it' : 'not valid'
          }}</span>
        </div>
        <ElButton link @click="form.identifiers.push({ scheme: 'registration', value: '' })"> Add a number </ElButton>
      </section>
      <section class="section">
        <h2>About it</h2>
        <div class="form-grid">
          <label>Web address<ElInput v-model="form.web" data-test="web" /></label>
          <label
            >Also trades as (with commas)<ElInput
              :model-value="form.tradeNames.join(', ')"
              @change="
                form.tradeNames = String($event)
                  .split(',')
                  .map(one => one.trim())
                  .filter(Boolean)
              "
          /></label>
          <label
            >Sells<ElSelect
              v-model="form.categories"
              multiple
              filterable
              allow-create
              default-first-option
              data-test="categories"
              ><ElOption
                v-for="one in choices?.categories"
                :key="one.name"
                :value="one.name"
                :label="one.name" /></ElSelect
          ></label>
          <label
            >Looked after by<ElSelect
              v-model="form.ownerId"
              filterable
              default-first-option
              clearable
              :value-on-clear="null"
              placeholder="nobody"
              ><ElOption v-for="one in choices?.people" :key="one.id" :value="one.id" :label="one.name" /></ElSelect
          ></label>
          <label
            >Size<ElSelect v-model="form.size"
              ><ElOption v-for="one in SIZES" :key="one" :value="one" :label="label('size', one)" /></ElSelect
          ></label>
          <label
            >Founded<ElInput
              :model-value="form.founded === null ? '' : String(form.founded)"
              maxlength="4"
              inputmode="numeric"
              @update:model-value="form.founded = /^\d{4}$/.test(String($event)) ? Number($event) : null"
          /></label>
          <label>Our number there<ElInput v-model="form.ourNumber" /></label>
          <label v-if="!id" data-place="iban"
            >IBAN, if you know it<ElInput v-model="account" data-test="find-iban"
          /></label>
        </div>
      </section>
      <section v-if="form.person" class="section">
        <h2>The person</h2>
        <p class="quiet">Read only by those who pay and those who keep suppliers; it does not stand in the history.</p>
        <div class="form-grid">
          <label data-place="person.birthDate"
            >Date of birth<ElDatePicker
              :model-value="form.person.birthDate || undefined"
              value-format="YYYY-MM-DD"
              format="D MMM YYYY"
              @update:model-value="form.person!.birthDate = $event ?? ''" /></label
          ><label
            >Tax status<ElSelect v-model="form.person.taxStatus"
              ><ElOption
                v-for="one in TAX_STATUSES"
                :key="one"
                :value="one"
                :label="label('tax status', one)" /></ElSelect></label
          ><label>National number<ElInput v-model="form.person.nationalId" /></label>
        </div>
      </section>
      <section class="section">
        <h2>Tax</h2>
        <div class="form-grid">
          <label
            >Taxed in, two letters<ElInput
              v-model="form.tax.residence"
              maxlength="2"
              @blur="form.tax.residence = form.tax.residence.toUpperCase()" /></label
          ><label data-place="tax.number">Tax number<ElInput v-model="form.tax.number" /></label
          ><label
            >Usual category<ElSelect v-model="form.tax.category" clearable :value-on-clear="''"
              ><ElOption
                v-for="one in TAX_CATEGORIES"
                :key="one"
                :value="one"
                :label="label('default value', one)" /></ElSelect></label
          ><label>Note<ElInput v-model="form.tax.note" /></label>
        </div>
      </section>
      <section class="section">
        <h2>Contacts</h2>
        <div v-for="(one, index) in form.contacts.slice(0, 100)" :key="index" class="block">
          <div class="form-grid">
            <label>Name<ElInput v-model="one.name" data-test="contact-name" /></label
            ><label>Mail address<ElInput v-model="one.email" data-test="contact-email" /></label
            ><label>Telephone<ElInput v-model="one.phone" /></label
            ><label>Language<ElInput v-model="one.language" maxlength="2" /></label>
          </div>
          <p class="bar">
            <ElCheckbox
              v-for="role in CONTACT_ROLES"
              :key="role"
              :model-value="one.roles.includes(role)"
              :label="label('contact role', role)"
              @change="toggle(one.roles, role)"
            /><ElButton link @click="form.contacts.splice(index, 1)">take out</ElButton>
          </p>
        </div>
        <p v-if="form.contacts.length > 100" class="quiet">
          {{ form.contacts.length - 100 }} more are kept as they are.
        </p>
        <ElButton
          link
          @click="form.contacts.unshift({ name: '', email: '', phone: '', language: 'en', roles: ['orders'] })"
        >
          Add a contact
        </ElButton>
      </section>
      <section class="section">
        <h2>Defaults</h2>
        <p class="quiet">
          What documents of this supplier take over. A location can say otherwise, and so can a document.
        </p>
        <DefaultsFields v-model="form.defaults" :above="[['house', house]]" level="supplier" place="defaults" />
      </section>
      <ReasonList :reasons="reasons" />
      <p class="bar foot">
        <ElButton
          type="primary"
          native-type="submit"
          :disabled="busy || asked || !form.name.trim()"
          data-primary
          data-test="save-supplier"
          >{{ id ? 'Save' : 'Create the supplier' }}</ElButton><ElButton
          v-if="shared && !id"
          data-test="ask-shared"
          @click="
            () => {
              clear()
              asking = true
            }
          "
          >Ask a second person</ElButton
        ><ElButton v-if="id" @click="emit('leave')">Leave it</ElButton>
      </p>
    </form>
    <aside v-if="!id" class="beside" aria-live="polite">
      <h2>Is it here already?</h2>
      <p v-if="form.name.trim().length < 3 && !found.candidates.length" class="quiet">
        Records that may be this supplier appear here while you type: by name, number, place, web domain and account.
      </p>
      <p v-else-if="!found.candidates.length" class="quiet" data-test="no-candidates">Nothing like it is here.</p>
      <CandidateList :candidates="found.candidates" />
    </aside>
    <ActDialog
      :open="asking"
      title="Two records with one number"
      what="A second person reads your reason and agrees or refuses. The new record is made when they agree."
      button="Ask"
      :busy="busy"
      :reasons="reasons"
      @close="asking = false"
      @go="askForShared"
    />
  </div>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(250px, 330px);
  min-height: 100%;
}
.two.single {
  grid-template-columns: minmax(0, 1fr);
}
.form {
  padding: 20px 28px 60px;
  max-width: 860px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
.names {
  display: grid;
  grid-template-columns: 1fr 200px;
  gap: 14px;
}
.proposal {
  margin-top: -6px;
  font-size: 12.5px;
}
.section {
  margin-top: 10px;
}
.line {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-bottom: 8px;
  max-width: 620px;
}
.block {
  border-bottom: 1px solid var(--rule-light);
  padding-bottom: 8px;
  margin-bottom: 10px;
}
.foot {
  margin-top: 14px;
}
summary {
  cursor: pointer;
  color: var(--tide);
  font-size: 12.5px;
  margin: 4px 0;
}
.beside {
  border-left: 1px solid var(--rule);
  padding: 20px 20px 40px;
  background: var(--page);
  position: sticky;
  top: 0;
  align-self: start;
  height: calc(100vh - 54px);
  overflow: auto;
}
.beside h2 {
  margin-bottom: 6px;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
  .beside {
    border-left: 0;
    border-top: 1px solid var(--rule);
    order: -1;
    position: static;
    height: auto;
    max-height: 45vh;
  }
  .names {
    grid-template-columns: 1fr;
  }
}
</style>
