import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))

export default defineConfig({
  plugins: [vue(), tailwindcss()],
  resolve: { alias: { '@': here('./src') } },
  build: {
    rolldownOptions: { input: { main: here('./index.html'), api: here('./api-page.html') } },
    chunkSizeWarningLimit: 2000,
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8740' } },
})
