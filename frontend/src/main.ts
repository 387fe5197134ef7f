import { VueQueryPlugin } from '@tanstack/vue-query'
import '@fontsource/ibm-plex-mono/latin-400.css'
import '@fontsource/ibm-plex-mono/latin-600.css'
import '@fontsource/ibm-plex-sans/latin-400.css'
import '@fontsource/ibm-plex-sans/latin-500.css'
import '@fontsource/ibm-plex-sans/latin-600.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { queries } from './api/queries'
import { router } from './router'
import './style.css'

createApp(App).use(createPinia()).use(VueQueryPlugin, { queryClient: queries }).use(router).mount('#app')
