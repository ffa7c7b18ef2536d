<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ListCategories, ProposeSupplier } from '#contract/source/onboarding.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import EntryForm from '#web/shared/EntryForm.vue'
import { useAction } from '#web/shared/useAction.ts'
import CandidateList from '#web/source/CandidateList.vue'
import { useCandidates } from '#web/source/useCandidates.ts'
import FormField from '#web/shared/FormField.vue'

/** Anybody proposes a supplier with what they know; who is here already is shown at once. */
const props = defineProps<{ requisitionId?: string; name?: string }>()
const emit = defineEmits<{ close: []; proposed: [supplierId: string, name: string] }>()
const router = useRouter()
const session = useSession()
const { busy, reasons, run } = useAction()
const form = reactive({
  name: props.name ?? '',
  kind: 'company' as 'company' | 'person',
  country: '',
  city: '',
  web: '',
  contactName: '',
  contactMail: '',
  categories: [] as string[],
  need: '',
})
const known = shallowRef<ResponseOf<typeof ListCategories>>()
const made = ref('')
onMounted(async () => {
  known.value = await api(ListCategories).catch(() => undefined)
})
const found = useCandidates(() => ({
  name: form.name,
  country: /^[A-Z]{2}$/.test(form.country) ? form.country : '',
  postalCode: '',
  city: form.city,
  street: '',
  web: form.web,
  iban: '',
  identifiers: [],
  except: null,
}))
async function propose(): Promise<void> {
  const done = await run(() =>
    api(ProposeSupplier, {
      body: { ...form, country: form.country.toUpperCase(), requisitionId: props.requisitionId ?? null },
    }),
  )
  if (!done) return
  emit('proposed', done.supplierId, form.name)
  if (props.requisitionId === undefined && session.may('supplier.write')) {
    emit('close')
    await router.push(`/source/onboardings/${done.id}`)
  } else made.value = form.name
}
</script>

<template>
  <ElDialog :model-value="true" title="Propose a supplier" width="760px" @close="emit('close')">
    <p v-if="made" class="reasons note" role="status">
      {{ made }} is proposed. Purchasing looks at it and invites it; you are told by mail when it can be ordered from.
    </p>
    <div v-else class="two">
      <div class="fields">
        <EntryForm :reasons="reasons" :busy="busy" @submit="propose"
          ><FormField label="Name"
            ><ElInput v-model="form.name" maxlength="300" data-test="propose-name" autofocus
          /></FormField>
          <div class="form-grid">
            <FormField label="It is"
              ><ElSelect v-model="form.kind"
                ><ElOption value="company" label="a company" /><ElOption
                  value="person"
                  label="a person paid a fee" /></ElSelect></FormField
            ><FormField label="Country, two letters"
              ><ElInput
                v-model="form.country"
                maxlength="2"
                data-test="propose-country"
                @blur="form.country = form.country.toUpperCase()" /></FormField
            ><FormField label="Place"><ElInput v-model="form.city" /></FormField
            ><FormField label="Web address"><ElInput v-model="form.web" data-test="propose-web" /></FormField
            ><FormField label="Whom you know there"
              ><ElInput v-model="form.contactName" data-test="propose-contact" /></FormField
            ><FormField label="Mail address"><ElInput v-model="form.contactMail" data-test="propose-mail" /></FormField>
          </div>
          <FormField label="It would sell us"
            ><ElSelect v-model="form.categories" multiple filterable default-first-option data-test="propose-categories"
              ><ElOption
                v-for="one in known?.categories"
                :key="one.name"
                :value="one.name"
                :label="one.name" /></ElSelect
          ></FormField>
          <FormField label="What you need from it"
            ><ElInput v-model="form.need" type="textarea" :rows="2" data-test="propose-need"
          /></FormField>
          <template #acts
            ><ElButton
              type="primary"
              native-type="submit"
              :disabled="busy || form.name.trim().length < 2"
              data-test="do-propose"
              >Propose it</ElButton
            ><ElButton data-test="close-propose" @click="emit('close')">Leave it</ElButton></template
          ></EntryForm
        >
      </div>
      <aside>
        <h3>Here already</h3>
        <p v-if="!found.candidates.length" class="quiet">
          {{ form.name.length < 3 ? 'Shown while you type.' : 'Nothing like it.' }}
        </p>
        <CandidateList :candidates="found.candidates.slice(0, 4)" />
      </aside>
    </div>
    <template v-if="made" #footer><ElButton data-test="close-propose" @click="emit('close')">Done</ElButton></template>
  </ElDialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 270px;
  gap: 24px;
}
.fields {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
@media (max-width: 700px) {
  .two {
    grid-template-columns: 1fr;
  }
}
</style>
