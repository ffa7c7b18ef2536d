import { shallowRef } from 'vue'

/** What was just done, said in passing; a screen reader hears it too. */
export const said = shallowRef<{ text: string; at: number }>()
export const sayInPassing = (text: string): void => {
  said.value = { text, at: Date.now() }
}
