<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { onMounted, reactive, ref } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ListCategories, ReadSourceSettings, SaveCategory, SaveSourceSettings } from '#contract/source/onboarding.ts'
import { RECORD_FIELDS } from '#core/source/questionnaire.ts'
import { proposedName } from '#core/source/naming.ts'
import { api } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import CategoryForm from '#web/setup/CategoryForm.vue'
import CategoryTree from '#web/setup/CategoryTree.vue'
import FormField from '#web/shared/FormField.vue'
import { sayInPassing } from '#web/shared/message.ts'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/**
 * What is bought, who looks after it, what is asked of those who sell it; how names are written; what suppliers
 * may change by themselves.
 */
type Category = ResponseOf<typeof ListCategories>['categories'][number]
const session = useSession()
const { reasons, run } = useAction()
const { data: known, reload } = useRead(ListCategories)
const settings = reactive<ResponseOf<typeof ReadSourceSettings>>({
  naming: { capitals: 'words', legalForm: 'dotless', trailingDots: 'drop' },
  harmless: [],
})
const edited = ref<Category | 'new'>()
onMounted(async () => Object.assign(settings, await api(ReadSourceSettings)))
async function kept(): Promise<void> {
  edited.value = undefined
  await reload()
}
async function hang(one: Category, parent: string | null): Promise<void> {
  const { owner: _owner, suppliers: _suppliers, ...body } = one
  if (await run(() => api(SaveCategory, { body: { ...body, parent } })))
    sayInPassing(parent === null ? `${one.name} stands at the top.` : `${one.name} hangs under ${parent}.`)
  await reload()
}
const saveSettings = (): Promise<unknown> =>
  run(() => api(SaveSourceSettings, { body: { naming: settings.naming, harmless: settings.harmless } }))
</script>

<template>
  <section class="section">
    <h1>What is bought</h1>
    <p class="quiet">
      The owner of a category decides on new suppliers in it. A missing or lapsed certificate does to the next order
      what stands here.<template v-if="session.may('setup.write')">
        Drag a category onto another, and it hangs under it; without a mouse, change what it hangs under.</template
      >
    </p>
    <CategoryTree
      v-if="known"
      :categories="known.categories"
      :keeping="session.may('setup.write')"
      @edit="edited = $event"
      @hang="hang"
    />
    <p v-if="session.may('setup.write')" class="bar">
      <ElButton data-test="new-category" @click="edited = 'new'">Add a category</ElButton>
    </p>
    <ReasonList :reasons="reasons" />
  </section>
  <section class="section">
    <h2>Names and harmless changes</h2>
    <div class="form-grid">
      <FormField label="Capital letters"
        ><ElSelect v-model="settings.naming.capitals" @change="saveSettings"
          ><ElOption value="asGiven" label="as given" /><ElOption
            value="words"
            label="at the start of words" /><ElOption value="upper" label="all" /></ElSelect></FormField
      ><FormField label="Legal form"
        ><ElSelect v-model="settings.naming.legalForm" @change="saveSettings"
          ><ElOption value="keep" label="as given" /><ElOption value="dotless" label="without dots" /><ElOption
            value="drop"
            label="left out" /></ElSelect></FormField
      ><FormField label="Dots at the end"
        ><ElSelect v-model="settings.naming.trailingDots" @change="saveSettings"
          ><ElOption value="drop" label="left out" /><ElOption value="keep" label="as given" /></ElSelect
      ></FormField>
      <FormField label="Suppliers change at once"
        ><ElSelect
          v-model="settings.harmless"
          multiple
          filterable
          default-first-option
          collapse-tags
          @change="saveSettings"
          ><ElOption
            v-for="field in RECORD_FIELDS.filter(one => !['iban', 'bic', 'holder'].includes(one))"
            :key="field"
            :value="field"
            :label="laterLabel('record field', field)" /></ElSelect
      ></FormField>
    </div>
    <p class="quiet">
      “ALDIS MEMBRANE LTD.” is proposed as “{{ proposedName('ALDIS MEMBRANE LTD.', settings.naming) }}”, “Kroonvis B.V.”
      as “{{ proposedName('Kroonvis B.V.', settings.naming) }}”. Proposed, never imposed.
    </p>
  </section>
  <CategoryForm
    v-if="edited && known"
    :known="known"
    :one="edited === 'new' ? undefined : edited"
    @close="edited = undefined"
    @kept="kept"
  />
</template>

<style scoped>
.bar {
  margin-top: 10px;
}
</style>
