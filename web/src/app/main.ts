import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import { recall } from '@/shared/outbox'
import App from './App.vue'
import { router } from './router'
import { scrolls } from '@/shared/scrolls'
import { queries } from '@/shared/session'
import './style.css'

createApp(App).directive('scrolls', scrolls).use(router).use(VueQueryPlugin, { queryClient: queries }).mount('#app')
void recall()
