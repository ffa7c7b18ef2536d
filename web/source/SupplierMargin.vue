<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReadSupplier } from '#contract/source/endpoints.ts'
import { useSession } from '#web/people/session.ts'
import { day, label, since } from '#web/shared/words.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Beside a supplier: its numbers, who uses its pages, where messages go, what was merged with it. */
const props = defineProps<{ sheet: ResponseOf<typeof ReadSupplier> }>()
const emit = defineEmits<{ reassign: [personId: string]; invite: []; undo: [mergeId: string] }>()
const session = useSession()
const administered = computed(() => props.sheet.people.some(one => one.administrator && one.active))
const mayInvite = computed(
  () =>
    !props.sheet.mergedInto &&
    (session.may('supplier.steward') || (session.may('supplier.write') && !administered.value)),
)
</script>

<template>
  <section v-if="sheet.supplier.identifiers.length">
    <h3>Numbers</h3>
    <p v-for="one in sheet.supplier.identifiers" :key="one.value" class="kv">
      <span class="quiet">{{ laterLabel('scheme', one.scheme) }}</span><span class="break">{{ one.value }}</span>
    </p>
  </section>
  <section>
    <h3>About it</h3>
    <p v-if="sheet.owner" class="kv">
      <span class="quiet">Looked after by</span><span>{{ sheet.owner }}</span>
    </p>
    <p v-if="sheet.supplier.size" class="kv">
      <span class="quiet">People</span><span>{{ laterLabel('size', sheet.supplier.size) }}</span>
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
        @click="emit('reassign', one.id)"
      >
        make administrator
      </ElButton>
    </p>
    <ElButton link v-if="mayInvite" data-test="invite-administrator" @click="emit('invite')">
      {{ administered ? 'name another administrator' : 'invite somebody there' }}
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
        @click="emit('undo', one.id)"
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

<style scoped>
.off {
  color: var(--ink-quiet);
}
.break {
  overflow-wrap: anywhere;
  text-align: right;
}
</style>
