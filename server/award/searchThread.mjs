// The thread that looks for plans: it learns TypeScript first, because it does not take that over from the process that starts it.
import { register } from 'tsx/esm/api'

register()
await import('./search.ts')
