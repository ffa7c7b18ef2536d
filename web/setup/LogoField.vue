<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ReadLetterhead, SetLogo } from '#contract/setup/letterhead.ts'
import { api, upload } from '#web/api.ts'
import { useSession } from '#web/people/session.ts'
import FileField from '#web/shared/FileField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { smallerPicture } from '#web/shared/smallerPicture.ts'
import { useAction } from '#web/shared/useAction.ts'
import { useRead } from '#web/shared/useRead.ts'

/** The house's sign, as it stands at the head of printed orders and requests. */
const session = useSession()
const { busy, reasons, run } = useAction()
const { data, reload } = useRead(ReadLetterhead)
/** Dots along its longer side: sharp on paper, small in a mail. */
const LONGEST = 700

async function set([file]: readonly (File | undefined)[]): Promise<void> {
  const done = await run(async () => {
    const fileId = file ? (await upload(await smallerPicture(file, { longest: LONGEST, clear: true }))).id : null
    return await api(SetLogo, { body: { fileId } })
  })
  if (done) await reload()
}
</script>

<template>
  <section v-if="data" class="logo">
    <h2>Sign on documents</h2>
    <p v-if="data.logo" class="paper sheet-head">
      <img :src="data.logo" alt="Our sign" data-test="logo" />
    </p>
    <p v-else class="quiet">Printed orders and requests begin with the name alone.</p>
    <p v-if="session.may('setup.write')" class="bar">
      <FileField
        :label="data.logo ? 'Another sign' : 'Give it a sign'"
        accept="image/png,image/jpeg,image/webp,image/svg+xml"
        mark="logo-file"
        :busy="busy"
        @choose="set"
      /><ElButton v-if="data.logo" link :disabled="busy" data-test="drop-logo" @click="set([undefined])"
        >Take it away</ElButton
      >
    </p>
    <ReasonList :reasons="reasons" />
  </section>
</template>

<style scoped>
.logo {
  margin-top: 28px;
  max-width: 560px;
}
.sheet-head {
  margin: 8px 0;
}
img {
  display: block;
  max-width: 226px;
  max-height: 64px;
}
</style>
