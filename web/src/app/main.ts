import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import { recall } from '@/shared/outbox'
import App from './App.vue'
import { router } from './router'
import { queries } from '@/shared/session'
import './style.css'

createApp(App).use(router).use(VueQueryPlugin, { queryClient: queries }).mount('#app')
void recall()
// Kept for days without a network: over HTTPS or on this machine alone, as browsers allow it.
if (import.meta.env.PROD && 'serviceWorker' in navigator) void navigator.serviceWorker.register('/sw.js')
