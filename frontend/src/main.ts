import '@fontsource-variable/hanken-grotesk/wght.css'
import '@fontsource-variable/jetbrains-mono/wght.css'
import './theme/tokens.css'
import './theme/element.css'

import { createPinia } from 'pinia'
import { createApp } from 'vue'

import App from './App.vue'
import { router } from './router'
import { restoreTheme } from './theme/theme'

restoreTheme()
createApp(App).use(createPinia()).use(router).mount('#app')
