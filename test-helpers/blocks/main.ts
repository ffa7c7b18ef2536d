import '@fontsource-variable/public-sans/index.css'
import '#web/theme/element.scss'
import '#web/theme/tokens.css'
import { createApp } from 'vue'
import BlockPage from '#test-helpers/blocks/BlockPage.vue'

createApp(BlockPage).mount('#app')
