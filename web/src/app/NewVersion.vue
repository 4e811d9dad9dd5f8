<script setup lang="ts">
import { promiseTimeout, useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import { useRegisterSW } from 'virtual:pwa-register/vue'

// Kept for days without a network: over HTTPS or on this machine alone, as browsers allow it. A tab left open for days
// asks again when somebody comes back to it.
const { needRefresh, updateServiceWorker } = useRegisterSW({
  onRegisteredSW(_, registration) {
    useEventListener(document, 'visibilitychange', () => {
      if (document.visibilityState === 'visible' && navigator.onLine) void registration?.update().catch(() => null)
    })
  },
})
// A part of this page that the server no longer has: it has a newer one.
const gone = ref(false)
useEventListener(window, 'vite:preloadError', () => (gone.value = true))

const loading = ref(false)
/** The new version takes over and loads itself. One that is slow to begin may not hear it, and is told again. */
async function take() {
  loading.value = true
  for (let told = 0; needRefresh.value && told < 4; told++) {
    await updateServiceWorker()
    await promiseTimeout(3000)
  }
  window.location.reload()
}
</script>

<template>
  <p
    v-if="needRefresh || gone"
    role="status"
    class="flex flex-wrap items-center justify-center gap-x-3 border-b border-hairline bg-tealwash px-4 py-2 text-[0.93rem] print:hidden"
  >
    A new version of this page is there. What you entered is kept.
    <button type="button" class="link font-semibold" :disabled="loading" @click="take">
      {{ loading ? 'Loading it …' : 'Load it' }}
    </button>
  </p>
</template>
