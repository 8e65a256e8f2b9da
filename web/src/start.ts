import { createApp } from 'vue'
import PrimeVue, { defaultOptions } from 'primevue/config'
import ConfirmationService from 'primevue/confirmationservice'
import ToastService from 'primevue/toastservice'
import { VueQueryPlugin } from '@tanstack/vue-query'
import '@fontsource-variable/archivo/wdth.css'
import './styles/base.css'
import './styles/parts.css'
import App from './App.vue'
import { router } from './router'
import { theme } from './theme'
import { applyScheme } from './shell/preferences'
import { isFinal } from './api/problem'
import { say } from './words/say'
import { vWide } from './components/wide'

// styles that PrimeVue adds are let in by the nonce of this page's own policy
const nonce = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce

applyScheme()
const app = createApp(App)
app.config.globalProperties.$say = say
app
  .directive('wide', vWide)
  .use(router)
  .use(PrimeVue, {
    theme,
    locale: { ...defaultOptions.locale!, firstDayOfWeek: 1 },
    ...(nonce && { csp: { nonce } }),
  })
  .use(ToastService)
  .use(ConfirmationService)
  .use(VueQueryPlugin, {
    queryClientConfig: {
      defaultOptions: {
        queries: { networkMode: 'always', staleTime: 5_000, retry: (n: number, e: unknown) => n < 3 && !isFinal(e) },
      },
    },
  })
  .mount('#app')

// a bench that was opened once opens without a network too
if (import.meta.env.PROD && 'serviceWorker' in navigator)
  void navigator.serviceWorker.register('/sw.js').catch(() => undefined)
