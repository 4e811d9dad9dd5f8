import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

// In development the page comes from here and the calls go on to the server of `make dev`.
const server = `http://127.0.0.1:${process.env.PORT ?? 8000}`

export default defineConfig({
  plugins: [
    vue(),
    tailwindcss(),
    // The page itself is kept in the browser, so that a round goes on without a network; what it shows is kept by
    // src/shared/kept.ts, what is entered by the outbox.
    VitePWA({
      // A new version waits until somebody takes it: page and scripts are of one build, with a network or without.
      registerType: 'prompt',
      injectRegister: null,
      manifest: {
        name: 'Gentle Ballast',
        short_name: 'Ballast',
        description: 'Tire pressures worked out from weighed loads',
        start_url: '/',
        display: 'standalone',
        background_color: '#f6f8f5',
        theme_color: '#0a6a63',
        icons: [
          { src: '/mark.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' },
          { src: '/mark-192.png', sizes: '192x192', type: 'image/png', purpose: 'any' },
          { src: '/mark-512.png', sizes: '512x512', type: 'image/png', purpose: 'maskable' },
        ],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
        cleanupOutdatedCaches: true,
        clientsClaim: true,
      },
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: { proxy: { '/api': server } },
  // The charts' library is the one large part, fetched with the first chart.
  build: {
    target: 'es2022',
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    chunkSizeWarningLimit: 700,
  },
})
