import '#contract/messages/receiving.ts'
import 'element-plus/es/components/button/style/css'
import 'element-plus/es/components/input/style/css'
import { registerSW } from 'virtual:pwa-register'
import { createApp } from 'vue'
import HandheldApp from '#web/handheld/HandheldApp.vue'
import '#web/handheld/handheld.css'

registerSW({ immediate: true })
// eslint-disable-next-line @typescript-eslint/no-unsafe-argument -- the linter does not see the type of this page, vue-tsc does
createApp(HandheldApp).mount('#handheld')
