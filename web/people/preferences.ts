import { useDebounceFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { KeepPreference, type PreferenceJson } from '#contract/people/preferences.ts'
import { api } from '#web/api.ts'

type Key = PreferenceJson['key']
type ValueOf<K extends Key> = Extract<PreferenceJson, { key: K }>['value']

/** Milliseconds that a change rests before it is told to the server: a splitter is dragged in many steps. */
const REST = 500
const nameOf = (key: Key, subject: string): string => `${key} ${subject}`

/** What the interface remembers of the person, wherever they sign in. Without a connection it is remembered until the page is left. */
export const usePreferences = defineStore('preferences', () => {
  const kept = shallowRef<ReadonlyMap<string, PreferenceJson>>(new Map())
  const waiting = new Map<string, PreferenceJson>()

  function remember(preferences: readonly PreferenceJson[]): void {
    kept.value = new Map(preferences.map(one => [nameOf(one.key, one.subject), one]))
  }
  function get<K extends Key>(key: K, subject: string): ValueOf<K> | undefined {
    return kept.value.get(nameOf(key, subject))?.value as ValueOf<K> | undefined
  }
  const tell = useDebounceFn(async () => {
    const changed = [...waiting.values()]
    waiting.clear()
    for (const one of changed) await api(KeepPreference, { body: one }).catch(() => undefined)
  }, REST)
  function set<K extends Key>(key: K, subject: string, value: ValueOf<K>): void {
    const one = { key, subject, value } as PreferenceJson
    kept.value = new Map(kept.value).set(nameOf(key, subject), one)
    waiting.set(nameOf(key, subject), one)
    void tell()
  }
  return { remember, get, set }
})
