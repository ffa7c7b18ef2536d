import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

/** The page of blocks, built like the interface itself. */
export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  plugins: [vue({ template: { compilerOptions: { whitespace: 'preserve' } } })],
  build: { emptyOutDir: true, target: 'es2022', minify: false },
})
