import { VueQueryPlugin } from '@tanstack/vue-query'
import '@fontsource/ibm-plex-mono/latin-400.css'
import '@fontsource/ibm-plex-mono/latin-600.css'
import '@fontsource/ibm-plex-sans/latin-400.css'
import '@fontsource/ibm-plex-sans/latin-500.css'
import '@fontsource/ibm-plex-sans/latin-600.css'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { Problem } from './api/client'
import { router } from './router'
import './style.css'

const retry = (count: number, error: unknown) => !(error instanceof Problem && error.status) && count < 4
createApp(App)
  .use(createPinia())
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: { queries: { staleTime: 30_000, retry, refetchOnWindowFocus: true } },
    },
  })
  .use(router)
  .mount('#app')
