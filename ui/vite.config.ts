import tailwindcss from '@tailwindcss/vite'
import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

// In development the API is wherever bin/start answers.
const backend = process.env.YENVO_URL ?? 'http://127.0.0.1:9292'

export default defineConfig({
  plugins: [
    // Words and marks stand in the templates as they are formatted: a line break between them is a space.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    tailwindcss(),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: { proxy: { '/api': backend } },
  // Vue without what only its older way of writing components needs.
  define: { __VUE_OPTIONS_API__: 'false' },
  build: {
    target: 'es2022',
    manifest: true,
    // A form that visitors fill in is a page of the server's, with a script and styles of its own.
    rollupOptions: { input: ['index.html', 'src/form/form.ts'] },
  },
})
