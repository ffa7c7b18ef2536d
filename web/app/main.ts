import '@fontsource/source-serif-4/600.css'
import '@fontsource-variable/public-sans/index.css'
import '#web/theme/element.scss'
import '#web/theme/tokens.css'
import { VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from '#web/app/App.vue'
import { connected } from '#web/news/news.ts'
import { usePreferences } from '#web/people/preferences.ts'
import { useSession } from '#web/people/session.ts'
import { createOurRouter } from '#web/app/router.ts'
import { queries } from '#web/shared/queries.ts'

const app = createApp(App)
app.use(createPinia())
app.use(VueQueryPlugin, { queryClient: queries })
const session = useSession()

/** Not awaited at the top of the module: a language that is loaded meanwhile may wait for scripts that wait for this one. */
async function begin(): Promise<void> {
  try {
    usePreferences().remember(await session.load())
  } catch {
    connected.value = false
  }
  app.use(createOurRouter(session))
  app.mount('#app')
}
void begin()
