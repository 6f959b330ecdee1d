import tailwindcss from '@tailwindcss/vite'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [tailwindcss()],
  define: { __MEASURING__: 'false' },
  build: { outDir: 'dist/web', emptyOutDir: true, target: 'es2024', chunkSizeWarningLimit: 4000 },
  worker: { format: 'es' },
})
