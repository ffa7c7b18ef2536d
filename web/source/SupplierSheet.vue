<script setup lang="ts">
import { ElButton, ElDatePicker, ElDialog, ElInput, ElOption, ElSelect } from 'element-plus'
import { computed, reactive, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import {
  ActOnSupplier,
  AnswerRevision,
  CertificateFile,
  InviteAdministrator,
  ProveBankAccount,
  ReadSupplier,
  ReassignAdministrator,
  SaveCertificate,
  SetBankAccount,
  WithdrawCertificate,
} from '#contract/source/endpoints.ts'
import { UndoMerge } from '#contract/source/duplicates.ts'
import { api, pathOf, upload } from '#web/api.ts'
import SheetFailure from '#web/shared/SheetFailure.vue'
import SheetFrame from '#web/frame/SheetFrame.vue'
import { useSession } from '#web/people/session.ts'
import ActDialog from '#web/shared/ActDialog.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { useSheet } from '#web/shared/useSheet.ts'
import { amountText, day, label, since } from '#web/shared/words.ts'
import MergeDialog from '#web/source/MergeDialog.vue'
import SignalTable from '#web/source/SignalTable.vue'
import SupplierForm from '#web/source/SupplierForm.vue'

const route = useRoute()
const router = useRouter()
const session = useSession()
const id = computed(() => String(route.params.id))
const editing = ref(false)
const { sheet, failure, stale, reload } = useSheet(ReadSupplier, id, () => editing.value)
const { busy, reasons, run, clear } = useAction()
/** What is being asked: an action, or `undo:`, `refuse:`, `withdraw:`, `reassign:` with an id. */
const asking = ref('')
const until = ref<string>()
const merging = ref(false)
const account = reactive({ open: false, iban: '', bic: '', holder: '' })
const person = reactive({ open: false, name: '', email: '', check: '' })
const certificate = reactive({
  open: false,
  kind: '',
  category: '',
  issuer: '',
  number: '',
  validFrom: '',
  validTo: '',
  replaces: null as string | null,
  file: null as File | null,
})
watch(id, () => {
  editing.value = false
  merging.value = false
})
const current = computed(() => sheet.value?.bankAccounts.find(one => one.state !== 'closed'))
const bad = computed(() => sheet.value?.signals.filter(one => one.tone === 'bad') ?? [])
const iban = (text: string): string => text.replace(/(.{4})/g, '$1 ').trim()
const WHAT: Readonly<Record<string, string>> = {
  prove:
    'Say how you checked the account: whom you called, on which number known before. From then on it can be paid to.',
  pause: 'No new order can be issued until somebody resumes it, or until the day that you name. Open orders go on.',
  resume: 'New orders can be issued again.',
  bar: 'Barring takes two people: somebody else reads your reason and agrees. From then on nothing can be asked for or ordered here.',
  close: 'The record is kept and no longer offered.',
  reopen: 'The supplier comes back with new orders paused.',
  undo: 'What was moved goes back to the record that was merged. What has come since stays here.',
  refuse: 'The supplier reads why this change is not taken.',
  withdraw: 'The certificate no longer counts; it stays in the history.',
  reassign:
    'The administration of the supplier’s people goes to this person. Say how you made sure that this is right: whom you called, on which number.',
}
const verb = computed(() => asking.value.split(':')[0]!)
const subject = computed(() => asking.value.split(':')[1] ?? '')
const TITLES: Readonly<Record<string, string>> = {
  undo: 'Undo the merge',
  refuse: 'Refuse the change',
  withdraw: 'Take the certificate out',
  reassign: 'Reassign the administration',
}

function act(name: string): void {
  clear()
  until.value = undefined
  if (name === 'edit') editing.value = true
  else if (name === 'bankAccount') Object.assign(account, { open: true, iban: '', bic: '', holder: sheet.value!.title })
  else if (name === 'addCertificate') newCertificate()
  else if (name === 'merge') merging.value = true
  else asking.value = name
}
function newCertificate(kind = '', category = '', replaces: string | null = null): void {
  clear()
  Object.assign(certificate, {
    open: true,
    kind,
    category: category || (sheet.value!.supplier.categories[0] ?? ''),
    issuer: '',
    number: '',
    validFrom: session.today,
    validTo: '',
    replaces,
    file: null,
  })
}
async function go(reason: string): Promise<void> {
  const params = { id: id.value }
  const { version } = sheet.value!
  const done = await run((): Promise<unknown> => {
    if (verb.value === 'prove')
      return api(ProveBankAccount, {
        params: { ...params, accountId: current.value!.id },
        body: { version, proof: reason },
      })
    if (verb.value === 'undo') return api(UndoMerge, { params: { id: subject.value }, body: { reason } })
    if (verb.value === 'refuse')
      return api(AnswerRevision, { params: { ...params, revisionId: subject.value }, body: { accept: false, reason } })
    if (verb.value === 'withdraw')
      return api(WithdrawCertificate, { params: { ...params, certificateId: subject.value }, body: { reason } })
    if (verb.value === 'reassign')
      return api(ReassignAdministrator, { params, body: { personId: subject.value, check: reason } })
    return api(ActOnSupplier, {
      params,
      body: { version, action: verb.value as 'pause', reason, until: until.value ?? null },
    })
  })
  if (done) {
    asking.value = ''
    await reload()
  }
}
function inviteAdministrator(): void {
  clear()
  const [contact] = sheet.value!.supplier.contacts
  Object.assign(person, { open: true, name: contact?.name ?? '', email: contact?.email ?? '', check: '' })
}
async function saveAdministrator(): Promise<void> {
  if (
    await run(() =>
      api(InviteAdministrator, {
        params: { id: id.value },
        body: { name: person.name, email: person.email, check: person.check },
      }),
    )
  ) {
    person.open = false
    await reload()
  }
}
async function saveAccount(): Promise<void> {
  if (
    await run(() =>
      api(SetBankAccount, {
        params: { id: id.value },
        body: {
          version: sheet.value!.version,
          iban: account.iban,
          bic: account.bic.toUpperCase(),
          holder: account.holder,
        },
      }),
    )
  ) {
    account.open = false
    await reload()
  }
}
async function saveCertificate(): Promise<void> {
  const done = await run(async () => {
    const fileId = certificate.file ? (await upload(certificate.file)).id : null
    return api(SaveCertificate, {
      params: { id: id.value },
      body: {
        kind: certificate.kind,
        category: certificate.category,
        issuer: certificate.issuer,
        number: certificate.number,
        validFrom: certificate.validFrom,
        validTo: certificate.validTo || null,
        fileId,
        replaces: certificate.replaces,
      },
    })
  })
  if (done) {
    certificate.open = false
    await reload()
  }
}
async function accept(revisionId: string): Promise<void> {
  if (
    await run(() => api(AnswerRevision, { params: { id: id.value, revisionId }, body: { accept: true, reason: '' } }))
  )
    await reload()
}
const standingTone = (standing: string): string =>
  standing === 'holds' ? 'tone-settled' : standing === 'soon' ? 'tone-attention' : 'tone-stop'
</script>

<template>
  <SheetFailure v-if="failure" :failure="failure" @again="reload" />
  <SupplierForm
    v-else-if="editing && sheet"
    :id="id"
    :supplier="sheet.supplier"
    :version="sheet.version"
    @saved="
      () => {
        editing = false
        reload()
      }
    "
    @leave="
      () => {
        editing = false
        reload()
      }
    "
  />
  <SheetFrame v-else-if="sheet" :sheet="sheet" :busy="busy" :stale="stale" @act="act" @changed="reload">
    <template #kind
      ><b>{{ sheet.supplier.kind === 'person' ? 'Person' : 'Supplier' }} {{ sheet.number }}</b
      ><template v-if="sheet.supplier.categories.length">, {{ sheet.supplier.categories.join(', ') }}</template
      ><template v-if="sheet.supplier.tradeNames.length"
        >; trades as {{ sheet.supplier.tradeNames.join(', ') }}</template
      ></template
    >
    <template #notice>
      <p v-if="sheet.mergedInto" class="reasons">
        This record was merged.
        <RouterLink :to="`/source/${sheet.mergedInto.id}`"
          >{{ sheet.mergedInto.name }} {{ sheet.mergedInto.number }}</RouterLink
        >
      </p>
      <p v-if="sheet.secondYes" class="reasons check">
        {{ sheet.secondYes.askedBy }} asks a second person to {{ label('second yes', sheet.secondYes.kind) }}: “{{
          sheet.secondYes.reason
        }}” <RouterLink :to="`/source/second-yes/${sheet.secondYes.id}`">Answer</RouterLink>
      </p>
      <p v-if="sheet.onboarding && sheet.onboarding.state !== 'accepted'" class="reasons note">
        Onboarding
        <RouterLink :to="`/source/onboardings/${sheet.onboarding.id}`">{{ sheet.onboarding.number }}</RouterLink>:
        {{ label('state', sheet.onboarding.state) }}
      </p>
      <ReasonList v-if="!asking && !account.open && !certificate.open && !person.open" :reasons="reasons" />
    </template>
    <section class="section facts">
      <p>
        <span>Spent in a year</span
        ><b
          ><small class="unit">{{ sheet.figures.currency }}</small> {{ amountText(sheet.figures.spentYear) }}</b
        >
      </p>
      <p>
        <span>Open orders</span
        ><b
          >{{ sheet.figures.openOrders }} <small class="unit">{{ amountText(sheet.figures.openValue) }}</small></b
        >
      </p>
      <p>
        <span>Last order</span><b>{{ sheet.figures.lastOrder ? since(sheet.figures.lastOrder) : 'none yet' }}</b>
      </p>
      <p>
        <span>Open invoices</span><b>{{ sheet.figures.openInvoices }}</b>
      </p>
      <p>
        <span>Signals</span
        ><b :class="bad.length ? 'tone-stop' : 'tone-settled'">{{
          bad.length ? `▲ ${bad.length} of ${sheet.signals.length}` : sheet.signals.length ? '✓ all right' : 'none yet'
        }}</b>
      </p>
    </section>
    <section v-if="sheet.revisions.some(one => one.state === 'waiting')" class="section">
      <h2>Changed by the supplier</h2>
      <table class="lines">
        <thead>
          <tr>
            <th>Field</th>
            <th>Now</th>
            <th>Wanted</th>
            <th>By</th>
            <th />
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="one in sheet.revisions.filter(other => other.state === 'waiting')"
            :key="one.id"
            :data-test="`revision-${one.key}`"
          >
            <td>
              <b>{{ one.label }}</b><small v-if="one.account" class="tone-attention"
                >becomes an account to be checked</small
              >
            </td>
            <td class="quiet">
              <del v-if="one.before">{{ one.before }}</del><template v-else>nothing</template>
            </td>
            <td>{{ one.after || 'nothing' }}</td>
            <td class="quiet">{{ one.by }}, {{ since(one.at) }}</td>
            <td class="num">
              <template v-if="session.may('supplier.write')"
                ><ElButton size="small" :disabled="busy" data-test="accept-revision" @click="accept(one.id)"
                  >Accept</ElButton
                ><ElButton
                  link
                  @click="
                    () => {
                      clear()
                      asking = `refuse:${one.id}`
                    }
                  "
                >
                  refuse
                </ElButton></template
              >
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="section">
      <h2>Paid to</h2>
      <p v-if="!current" class="quiet">No account yet.</p>
      <p v-else data-test="account">
        <b>{{ iban(current.iban) }}</b> {{ current.bic }}, {{ current.holder }}:
        <span :class="current.state === 'proven' ? 'tone-settled' : 'tone-attention'">{{
          current.state === 'proven'
            ? `✓ checked by ${current.provenBy}`
            : `◆ entered by ${current.changedBy} ${since(current.changedAt)}, not checked yet`
        }}</span><br /><span class="quiet">{{ current.proof ? `“${current.proof}”` : '' }}</span
        ><span v-if="current.sharedWith" class="tone-stop">
          ▲ The same account is kept for {{ current.sharedWith }}.</span
        ><span v-if="current.held" class="tone-attention">
          {{ current.held === 1 ? 'One invoice waits' : `${current.held} invoices wait` }} for the check.</span
        >
      </p>
    </section>
    <section class="section">
      <h2>Qualified for</h2>
      <p v-if="!sheet.certificateRules.length && !sheet.certificates.length" class="quiet">
        Its categories ask for no certificate.
      </p>
      <table v-else class="lines">
        <tbody>
          <tr v-for="rule in sheet.certificateRules" :key="rule.category + rule.kind" :data-test="`rule-${rule.kind}`">
            <td :class="standingTone(rule.standing)">
              {{ rule.standing === 'holds' ? '✓' : rule.standing === 'soon' ? '◆' : '▲' }}
            </td>
            <td>
              <b>{{ rule.kind }}</b>
              <span class="quiet">for {{ rule.category }}, otherwise it {{ label('lapse', rule.lapse) }}</span>
            </td>
            <td :class="standingTone(rule.standing)">
              {{ label('standing', rule.standing)
              }}<template v-if="rule.validTo"
                >, {{ rule.standing === 'lapsed' ? 'ended' : 'until' }} {{ day(rule.validTo) }}</template
              >
            </td>
            <td class="num">
              <ElButton
                link
                v-if="session.may('supplier.write') && rule.standing !== 'holds'"
                @click="newCertificate(rule.kind, rule.category)"
              >
                add the new one
              </ElButton>
            </td>
          </tr>
        </tbody>
      </table>
      <details v-if="sheet.certificates.length">
        <summary>
          {{ sheet.certificates.length }} {{ sheet.certificates.length === 1 ? 'certificate' : 'certificates' }}
        </summary>
        <table class="lines">
          <thead>
            <tr>
              <th>Kind</th>
              <th>Issued by</th>
              <th>Number</th>
              <th>Holds</th>
              <th>File</th>
              <th />
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in sheet.certificates" :key="one.id" :class="{ off: one.state !== 'current' }">
              <td>
                {{ one.kind }}<small v-if="one.category">{{ one.category }}</small>
              </td>
              <td>{{ one.issuer }}</td>
              <td>{{ one.number }}</td>
              <td>
                {{ day(one.validFrom) }} to {{ one.validTo ? day(one.validTo) : 'no end'
                }}<small v-if="one.state !== 'current'">{{
                  one.state === 'replaced' ? 'replaced' : 'taken out'
                }}</small>
              </td>
              <td>
                <a v-if="one.fileId" :href="pathOf(CertificateFile, { id: one.id })" download>{{ one.fileName }}</a>
              </td>
              <td class="num">
                <template v-if="one.state === 'current' && session.may('supplier.write')"
                  ><ElButton link @click="newCertificate(one.kind, one.category, one.id)"> replace </ElButton>
                  <ElButton
                    link
                    @click="
                      () => {
                        clear()
                        asking = `withdraw:${one.id}`
                      }
                    "
                  >
                    take out
                  </ElButton></template
                >
              </td>
            </tr>
          </tbody>
        </table>
      </details>
    </section>
    <SignalTable :id="id" :signals="sheet.signals" @changed="reload" />
    <section v-if="sheet.orders.length" class="section">
      <h2>Latest orders</h2>
      <table class="lines">
        <tbody>
          <tr v-for="one in sheet.orders" :key="one.id">
            <td>
              <RouterLink :to="`/order/${one.id}`">{{ one.number }}</RouterLink>
            </td>
            <td>{{ one.title }}</td>
            <td>{{ label('state', one.state) }}</td>
            <td class="num">
              {{ amountText(one.amount) }} <span class="unit">{{ one.currency }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="section">
      <h2>Defaults</h2>
      <table class="lines">
        <tbody>
          <tr v-for="one in sheet.effective" :key="one.key">
            <td>{{ label('default', one.key) }}</td>
            <td>
              <b>{{ label('default value', one.value) || '–' }}</b>
            </td>
            <td class="quiet">
              {{ label('from', one.from)
              }}<template v-if="one.from === 'supplier' && one.otherwise"
                >; otherwise {{ label('default value', one.otherwise) }}</template
              >
            </td>
          </tr>
        </tbody>
      </table>
      <p v-for="one in sheet.locationEffective" :key="one.locationId" class="quiet">
        {{ sheet.supplier.locations.find(other => other.id === one.locationId)?.name }} says otherwise:
        {{
          one.values.map(value => `${label('default', value.key)} ${label('default value', value.value)}`).join(', ')
        }}.
      </p>
    </section>
    <section class="section">
      <h2>Locations</h2>
      <table class="lines">
        <tbody>
          <tr v-for="one in sheet.supplier.locations" :key="one.id">
            <td>
              <b>{{ one.name }}</b>
            </td>
            <td>
              {{ [one.street, `${one.postalCode} ${one.city}`.trim(), one.country].filter(Boolean).join(', ')
              }}<small>{{ one.phone }}</small>
            </td>
            <td class="quiet">{{ one.roles.map(role => label('location role', role)).join(', ') }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section class="section">
      <h2>Contacts</h2>
      <table class="lines">
        <tbody>
          <tr v-for="one in sheet.supplier.contacts.slice(0, 30)" :key="one.id">
            <td>
              <b>{{ one.name }}</b>
            </td>
            <td>
              <a v-if="one.email" :href="`mailto:${one.email}`">{{ one.email }}</a>
            </td>
            <td>{{ one.phone }}</td>
            <td class="quiet">
              {{ one.roles.map(role => label('contact role', role)).join(', ')
              }}{{ one.language !== 'en' ? `, ${one.language}` : '' }}
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="sheet.supplier.contacts.length > 30" class="quiet">and {{ sheet.supplier.contacts.length - 30 }} more</p>
    </section>
    <section v-if="sheet.answers.length" class="section">
      <h2>Its answers</h2>
      <table class="lines">
        <tbody>
          <tr v-for="one in sheet.answers" :key="one.label">
            <td class="quiet">{{ one.label }}</td>
            <td>{{ one.answer }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <template #margin>
      <section v-if="sheet.supplier.identifiers.length">
        <h3>Numbers</h3>
        <p v-for="one in sheet.supplier.identifiers" :key="one.value" class="kv">
          <span class="quiet">{{ label('scheme', one.scheme) }}</span><span class="break">{{ one.value }}</span>
        </p>
      </section>
      <section>
        <h3>About it</h3>
        <p v-if="sheet.owner" class="kv">
          <span class="quiet">Looked after by</span><span>{{ sheet.owner }}</span>
        </p>
        <p v-if="sheet.supplier.size" class="kv">
          <span class="quiet">People</span><span>{{ label('size', sheet.supplier.size) }}</span>
        </p>
        <p v-if="sheet.supplier.founded" class="kv">
          <span class="quiet">Founded</span><span>{{ sheet.supplier.founded }}</span>
        </p>
        <p v-if="sheet.supplier.web" class="kv">
          <span class="quiet">Web</span><span class="break">{{ sheet.supplier.web }}</span>
        </p>
        <p v-if="sheet.supplier.ourNumber" class="kv">
          <span class="quiet">Our number there</span><span>{{ sheet.supplier.ourNumber }}</span>
        </p>
        <p v-if="sheet.supplier.person?.birthDate" class="kv">
          <span class="quiet">Born</span><span>{{ day(sheet.supplier.person.birthDate) }}</span>
        </p>
        <p v-if="sheet.confidential" class="quiet">Personal data is kept apart.</p>
      </section>
      <section>
        <h3>People with an account</h3>
        <p v-if="!sheet.people.length" class="quiet">Nobody there uses the supplier’s pages yet.</p>
        <p v-for="one in sheet.people" :key="one.id" class="kv" :class="{ off: !one.active }">
          <span
            >{{ one.name
            }}<span class="quiet"
              >{{ one.administrator ? ', administrator' : one.role ? `, ${one.role}` : ''
              }}{{ one.active ? '' : ', closed' }}</span
            ></span
          ><ElButton
            link
            v-if="session.may('supplier.steward') && one.active && !one.administrator"
            class="nowrap"
            @click="
              () => {
                clear()
                asking = `reassign:${one.id}`
              }
            "
          >
            make administrator
          </ElButton>
        </p>
        <ElButton
          link
          v-if="
            !sheet.mergedInto &&
            (session.may('supplier.steward') ||
              (session.may('supplier.write') && !sheet.people.some(one => one.administrator && one.active)))
          "
          data-test="invite-administrator"
          @click="inviteAdministrator"
        >
          {{
            sheet.people.some(one => one.administrator && one.active)
              ? 'name another administrator'
              : 'invite somebody there'
          }}
        </ElButton>
      </section>
      <section v-if="sheet.addresses.length">
        <h3>Messages go to</h3>
        <p v-for="one in sheet.addresses" :key="one.message + one.email" class="kv">
          <span class="quiet">{{ label('message', one.message) }}</span><span
            class="break"
            :class="{ 'tone-stop': one.bouncedAt }"
            :title="one.bounce ?? ''"
            >{{ one.email }}{{ one.bouncedAt ? ', bounced' : '' }}</span
          >
        </p>
      </section>
      <section v-if="sheet.merges.length">
        <h3>Merged with this</h3>
        <p v-for="one in sheet.merges" :key="one.id" class="kv">
          <span
            >{{ one.name }} <span class="quiet">{{ one.number }}, by {{ one.by }}, {{ since(one.at) }}</span></span
          ><ElButton
            link
            v-if="one.mayUndo"
            class="nowrap"
            data-test="undo-merge"
            :title="`until ${day(one.undoUntil)}`"
            @click="
              () => {
                clear()
                asking = `undo:${one.id}`
              }
            "
          >
            undo
          </ElButton>
        </p>
      </section>
      <section v-if="sheet.bankAccounts.length > 1">
        <h3>Earlier accounts</h3>
        <p v-for="one in sheet.bankAccounts.filter(other => other.state === 'closed')" :key="one.id" class="kv">
          <span>… {{ one.iban.slice(-4) }}</span
          ><span class="quiet">from {{ day(one.changedAt) }}</span>
        </p>
      </section>
    </template>
  </SheetFrame>
  <ActDialog
    :open="asking !== ''"
    :title="TITLES[verb] ?? label('action', verb)"
    :what="WHAT[verb] ?? ''"
    :button="TITLES[verb] ?? (verb === 'bar' ? 'Ask for it' : label('action', verb))"
    :busy="busy"
    :reasons="reasons"
    :danger="verb === 'bar'"
    @close="asking = ''"
    @go="go"
  >
    <label v-if="verb === 'pause'" class="field until" data-place="until"
      >Until, if you know it<ElDatePicker v-model="until" value-format="YYYY-MM-DD" format="D MMM YYYY"
    /></label>
  </ActDialog>
  <MergeDialog
    v-if="merging && sheet"
    :kept="{ id, name: sheet.title, number: sheet.number }"
    @close="merging = false"
    @merged="
      () => {
        merging = false
        reload()
      }
    "
    @asked="router.push(`/source/second-yes/${$event}`)"
  />
  <ElDialog v-model="person.open" title="Somebody at the supplier" width="480px">
    <p>They become the administrator of the supplier's people and get a mail with a link to choose a password.</p>
    <div class="column">
      <label class="field">Name<ElInput v-model="person.name" data-test="administrator-name" /></label
      ><label class="field" data-place="email"
        >Mail address<ElInput v-model="person.email" data-test="administrator-mail" /></label
      ><label class="field"
        >How you made sure that this is right<ElInput v-model="person.check" data-test="administrator-check"
      /></label>
    </div>
    <ReasonList :reasons="reasons" />
    <template #footer
      ><ElButton
        type="primary"
        :disabled="busy || !person.name || !person.email || person.check.trim().length < 3"
        data-test="save-administrator"
        @click="saveAdministrator"
        >Send the link</ElButton
      ><ElButton @click="person.open = false">Leave it</ElButton></template
    >
  </ElDialog>
  <ElDialog v-model="account.open" title="Another account" width="480px">
    <p>The account waits until a second person has checked it with the supplier. Their contacts are told by mail.</p>
    <div class="column">
      <label class="field" data-place="iban">IBAN<ElInput v-model="account.iban" data-test="iban" /></label
      ><label class="field">BIC, if known<ElInput v-model="account.bic" maxlength="11" /></label
      ><label class="field">Holder<ElInput v-model="account.holder" /></label>
    </div>
    <ReasonList :reasons="reasons" />
    <template #footer
      ><ElButton type="primary" :disabled="busy || !account.iban" data-test="save-account" @click="saveAccount"
        >Set the account</ElButton
      ><ElButton @click="account.open = false">Leave it</ElButton></template
    >
  </ElDialog>
  <ElDialog
    v-model="certificate.open"
    :title="certificate.replaces ? 'The new certificate' : 'A certificate'"
    width="560px"
  >
    <div class="form-grid">
      <label
        >Kind<ElSelect
          v-model="certificate.kind"
          filterable
          allow-create
          default-first-option
          data-test="certificate-kind"
          ><ElOption
            v-for="one in [...new Set(sheet?.certificateRules.map(rule => rule.kind))]"
            :key="one"
            :value="one"
            :label="one" /></ElSelect
      ></label>
      <label
        >For<ElSelect v-model="certificate.category"
          ><ElOption value="" label="everything" /><ElOption
            v-for="one in sheet?.supplier.categories"
            :key="one"
            :value="one"
            :label="one" /></ElSelect
      ></label>
      <label>Issued by<ElInput v-model="certificate.issuer" data-test="certificate-issuer" /></label
      ><label>Number<ElInput v-model="certificate.number" data-test="certificate-number" /></label>
      <label
        >Holds from<ElDatePicker v-model="certificate.validFrom" value-format="YYYY-MM-DD" format="D MMM YYYY" /></label
      ><label data-place="validTo" data-test="certificate-until"
        >Last day<ElDatePicker
          v-model="certificate.validTo"
          value-format="YYYY-MM-DD"
          format="D MMM YYYY"
          placeholder="no end"
      /></label>
    </div>
    <label class="field file"
      >File<input
        type="file"
        aria-label="File"
        @change="certificate.file = ($event.target as HTMLInputElement).files?.[0] ?? null"
    /></label>
    <ReasonList :reasons="reasons" />
    <template #footer
      ><ElButton
        type="primary"
        :disabled="busy || !certificate.kind || !certificate.issuer || !certificate.number || !certificate.validFrom"
        data-test="save-certificate"
        @click="saveCertificate"
        >Keep it</ElButton
      ><ElButton @click="certificate.open = false">Leave it</ElButton></template
    >
  </ElDialog>
</template>

<style scoped>
.facts {
  display: flex;
  gap: 14px 32px;
  flex-wrap: wrap;
}
.facts p {
  display: flex;
  flex-direction: column;
}
.facts span {
  color: var(--ink-quiet);
  font-size: 12px;
}
.facts b {
  font-size: 17px;
  font-weight: 600;
}
.column {
  display: flex;
  flex-direction: column;
  gap: 10px;
  margin-top: 12px;
}
.until,
.file {
  margin-top: 12px;
}
.off {
  color: var(--ink-quiet);
}
.break {
  overflow-wrap: anywhere;
  text-align: right;
}
summary {
  cursor: pointer;
  color: var(--tide);
  font-size: 12.5px;
  margin: 8px 0 4px;
}
</style>
