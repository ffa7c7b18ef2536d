/// <reference types="vite/client" />
/// <reference types="vite-plugin-pwa/client" />
declare module 'splitpanes' {
  import type { DefineComponent } from 'vue'
  export const Splitpanes: DefineComponent<Record<string, unknown>>
  export const Pane: DefineComponent<Record<string, unknown>>
}
