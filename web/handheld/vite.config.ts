import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

/** The handheld is a page of its own that can be installed: little to load, and all of it kept on the device. */
export default defineConfig({
  root: fileURLToPath(new URL('.', import.meta.url)),
  base: '/handheld/',
  plugins: [
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: null,
      manifest: {
        name: 'Ivory Order Handheld',
        short_name: 'Handheld',
        start_url: '/handheld/',
        scope: '/handheld/',
        display: 'standalone',
        background_color: '#fffdf7',
        theme_color: '#1b2431',
        icons: [{ src: '/handheld/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
      },
      workbox: { globPatterns: ['**/*.{js,css,html,svg,woff2}'], navigateFallback: '/handheld/index.html' },
    }),
  ],
  build: {
    outDir: '../../dist/web/handheld',
    emptyOutDir: true,
    target: 'es2022',
    sourcemap: false,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
  },
  define: {
    __VUE_OPTIONS_API__: 'false',
    __VUE_PROD_DEVTOOLS__: 'false',
    __VUE_PROD_HYDRATION_MISMATCH_DETAILS__: 'false',
  },
})
