import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import { ReadCounts } from '#contract/desk/endpoints.ts'
import { type PersonJson, ReadSession, SignOut } from '#contract/people/endpoints.ts'
import type { Permission } from '#contract/permissions.ts'
import { api } from '#web/api.ts'
import { speak } from '#web/shared/language.ts'
import { offeredUnits } from '#web/shared/offeredUnits.ts'
import { readFor } from '#web/shared/words.ts'

type Counts = ResponseOf<typeof ReadCounts>

/** Who is signed in, and what the Course shows. The only state that outlives a page. */
export const useSession = defineStore('session', () => {
  const person = ref<PersonJson | null>(null)
  const pending = ref<'code' | 'enrol' | null>(null)
  const house = ref('')
  const single = ref<string | null>(null)
  const demo = ref(false)
  const demoPeople = ref<ResponseOf<typeof ReadSession>['demoPeople']>([])
  const at = ref('')
  const today = ref('')
  const base = ref('EUR')
  const counts = shallowRef<Counts>()
  const loaded = ref(false)

  /** Reads who is signed in, and gives back what the interface remembers of them. */
  async function load(): Promise<ResponseOf<typeof ReadSession>['preferences']> {
    const answer = await api(ReadSession)
    person.value = answer.person
    if (answer.person) readFor(answer.person.locale, answer.person.timeZone)
    if (answer.person?.realm !== 'team') await speak(answer.person?.locale ?? navigator.language, answer.languages)
    pending.value = answer.pending
    house.value = answer.house
    single.value = answer.single
    demo.value = answer.demo
    demoPeople.value = answer.demoPeople
    at.value = answer.at
    today.value = answer.today
    base.value = answer.baseCurrency
    offeredUnits.value = answer.units
    loaded.value = true
    return answer.preferences
  }

  async function refreshCounts(): Promise<void> {
    if (person.value?.realm === 'team') counts.value = await api(ReadCounts).catch(() => counts.value)
  }

  async function signOut(): Promise<void> {
    await api(SignOut)
    location.assign('/sign-in')
  }

  const may = (permission: Permission): boolean => person.value?.permissions.includes(permission) ?? false
  return {
    person,
    pending,
    house,
    single,
    demo,
    demoPeople,
    at,
    today,
    base,
    counts,
    loaded,
    load,
    refreshCounts,
    signOut,
    may,
    realm: computed(() => person.value?.realm),
  }
})
