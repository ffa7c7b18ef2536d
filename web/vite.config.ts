import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

/** What the first page that somebody sees is made of: reached from here without waiting. */
const FIRST = /\/web\/(app\/main\.ts|desk\/DeskPage\.vue)$/
/** Parts of which each stage takes some: they are imported from one index, which says nothing of who needs them. */
const KIT = /node_modules\/(element-plus|@element-plus|lodash-es|@popperjs|dayjs|async-validator)\//
/** Fields for days and times: heavy, and not on the first page. */
const DAYS = /node_modules\/(element-plus\/es\/components\/(date-picker|date-picker-panel|time-picker)|dayjs)\//
/** Lists to choose from: not on the first page either. */
const CHOICES = /node_modules\/element-plus\/es\/components\/(select|tag|checkbox-group)\//
/** All but the rules of the world's registers, which few pages ask. */
const ALONE = /^(?!.*node_modules\/(stdnum|ibantools)\/)/
/** Styles need no file of their own beside the first. */
const STYLE = /\.css$/
const known = new Map<string, boolean>()
interface Modules {
  readonly getModuleInfo: (id: string) => { readonly importers: readonly string[] } | null
}
/** Whether a module is needed for the first page: one script then holds all of it, instead of thirty that ask for each other. */
function isFirst(id: string, modules: Modules): boolean {
  const before = known.get(id)
  if (before !== undefined) return before
  known.set(id, FIRST.test(id))
  const first = FIRST.test(id) || (modules.getModuleInfo(id)?.importers.some(one => isFirst(one, modules)) ?? false)
  known.set(id, first)
  return first
}

export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  // a line break that Prettier makes of a blank stays a blank
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } })],
  resolve: { alias: { '@ctrl/tinycolor': fileURLToPath(new URL('theme/noTint.ts', import.meta.url)) } },
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    target: 'es2022',
    sourcemap: false,
    assetsInlineLimit: 0,
    // every browser that this is built for knows it
    modulePreload: { polyfill: false },
    chunkSizeWarningLimit: 900,
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            {
              debugName: 'base',
              name: (id, modules) =>
                id.includes('/node_modules/') && !STYLE.test(id) && !KIT.test(id) && isFirst(id, modules)
                  ? 'base'
                  : null,
              priority: 4,
              includeDependenciesRecursively: false,
            },
            { name: 'days', test: DAYS, minShareCount: 3, priority: 5, includeDependenciesRecursively: false },
            { name: 'choices', test: CHOICES, minShareCount: 3, priority: 5, includeDependenciesRecursively: false },
            { name: 'kit', test: KIT, minShareCount: 12, priority: 3, includeDependenciesRecursively: false },
            {
              debugName: 'first',
              name: (id, modules) => (!KIT.test(id) && isFirst(id, modules) ? 'first' : null),
              priority: 2,
              includeDependenciesRecursively: false,
            },
            // what several stages use: one script instead of one for each button
            { name: 'shared', test: ALONE, minShareCount: 3, priority: 1, includeDependenciesRecursively: false },
          ],
        },
      },
    },
  },
  define: {
    __VUE_OPTIONS_API__: 'true',
    __VUE_PROD_DEVTOOLS__: 'false',
    __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
  },
})
