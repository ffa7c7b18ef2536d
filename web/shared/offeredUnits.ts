import { shallowRef } from 'vue'

/** Units that the house offers where one is chosen; whoever signs in is told. */
export const offeredUnits = shallowRef<readonly string[]>([])
