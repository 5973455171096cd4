import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))

export default defineConfig({
  plugins: [
    vue(),
    tailwindcss(),
    // The shell and what the slab last said stay in the browser, so that a reload at the slab works without network.
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: null,
      manifest: false,
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        globIgnores: ['**/api-page*', 'assets/api-*'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api/],
        cleanupOutdatedCaches: true,
        clientsClaim: true,
        runtimeCaching: [
          {
            urlPattern: /\/api\/(home|workshop|slab\/\d+|materials\/library|additives)$/,
            handler: 'NetworkFirst',
            options: {
              cacheName: 'niddy-last-said',
              networkTimeoutSeconds: 5,
              expiration: { maxEntries: 40 },
              cacheableResponse: { statuses: [200] },
            },
          },
        ],
      },
    }),
  ],
  resolve: { alias: { '@': here('./src') } },
  build: {
    rolldownOptions: {
      input: { main: here('./index.html'), api: here('./api-page.html') },
      output: {
        // A page is a handful of files: what several views share is one of them, not one for each component.
        codeSplitting: {
          groups: [
            { name: 'packages', test: /node_modules\/(?!swagger)/ },
            { name: 'shared', test: /\/src\//, minShareCount: 2 },
          ],
        },
      },
    },
    chunkSizeWarningLimit: 2000,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8740' } },
})
