<script setup lang="ts">
import { ElButton, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { AskForShared, ChangeSupplier, CreateSupplier } from '#contract/source/endpoints.ts'
import { ListCategories } from '#contract/source/onboarding.ts'
import { EMPTY_SUPPLIER, type SupplierBody } from '#contract/source/record.ts'
import { HOUSE_DEFAULTS } from '#core/source/defaults.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import ActDialog from '#web/shared/ActDialog.vue'
import { useAction } from '#web/shared/useAction.ts'
import { words } from '#web/shared/words.ts'
import AboutFields from '#web/source/AboutFields.vue'
import CandidateList from '#web/source/CandidateList.vue'
import ContactFields from '#web/source/ContactFields.vue'
import DefaultsFields from '#web/source/DefaultsFields.vue'
import IdentifierFields from '#web/source/IdentifierFields.vue'
import LocationFields from '#web/source/LocationFields.vue'
import { useCandidates } from '#web/source/useCandidates.ts'
import FormField from '#web/shared/FormField.vue'

/** A supplier's record as a form. Beside a new one stand the records that may be it already. */
const props = defineProps<{ supplier?: SupplierBody; id?: string; version?: number }>()
const emit = defineEmits<{ saved: []; leave: [] }>()
const router = useRouter()
const session = useSession()
const { busy, reasons, run, clear } = useAction()
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
const house = computed(() => ({ ...HOUSE_DEFAULTS, currency: session.base }))
</script>

<template>
  <div class="two" :class="{ single: !!id }">
    <EntryForm class="form" :reasons="reasons" :busy="busy" @submit="save">
      <h1>{{ id ? 'Change the supplier' : 'A new supplier' }}</h1>
      <div v-if="asked" class="reasons note" role="status" data-test="asked">
        A second person has been asked. When somebody agrees, the record is made; it then stands in the list.
        <RouterLink to="/source">Back to the suppliers</RouterLink>
      </div>
      <div class="names">
        <FormField label="Name" place="name"
          ><ElInput v-model="form.name" maxlength="300" data-test="supplier-name" autofocus
        /></FormField>
        <FormField label="Company or person"
          ><ElSelect :model-value="form.kind" data-test="supplier-kind" @update:model-value="setKind"
            ><ElOption value="company" label="a company" /><ElOption
              value="person"
              label="a person paid a fee" /></ElSelect
        ></FormField>
      </div>
      <p v-for="one in found.notes" :key="one.code" class="quiet proposal">
        {{ words(one) }}
        <ElButton link data-test="take-name" @click="form.name = String(one.details.proposal)"> Take it </ElButton>
      </p>
      <LocationFields v-model="form.locations" :house="house" :defaults="form.defaults" />
      <IdentifierFields v-model="form.identifiers" :reasons="reasons" />
      <AboutFields v-model="form" v-model:account="account" :choices="choices" :is-new="!id" />
      <ContactFields v-model="form.contacts" />
      <section class="section">
        <h2>Defaults</h2>
        <p class="quiet">
          What documents of this supplier take over. A location can say otherwise, and so can a document.
        </p>
        <DefaultsFields v-model="form.defaults" :above="[['house', house]]" level="supplier" place="defaults" />
      </section>
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
    </EntryForm>
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
.foot {
  margin-top: 14px;
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
