import '@fontsource-variable/source-serif-4/index.css'
import '@fontsource-variable/public-sans/index.css'
import '#web/theme/element.scss'
import '#web/theme/tokens.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from '#web/App.vue'
import { useSession } from '#web/people/session.ts'
import { createOurRouter } from '#web/router.ts'

const app = createApp(App)
app.use(createPinia())
const session = useSession()
try {
  await session.load()
} catch {
  session.offline = true
}
app.use(createOurRouter(session))
app.mount('#app')
