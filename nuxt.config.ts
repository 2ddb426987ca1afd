import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

// Cross-origin isolation: without it the browser gives no shared memory, and without that there is no sound.
const isolation = {
  'Cross-Origin-Opener-Policy': 'same-origin',
  'Cross-Origin-Embedder-Policy': 'require-corp',
  'Cross-Origin-Resource-Policy': 'same-origin'
}

export default defineNuxtConfig({
  ssr: false,
  compatibilityDate: '2025-07-15',
  telemetry: false,
  devtools: { enabled: false },
  hooks: {
    // The page never ships kernels of yesterday.
    'build:before': () =>
      void execFileSync(process.execPath, [fileURLToPath(new URL('tools/build-kernels.mjs', import.meta.url))])
  },
  modules: ['@pinia/nuxt', '@element-plus/nuxt'],
  css: [
    '@fontsource/ibm-plex-sans/400.css',
    '@fontsource/ibm-plex-sans/500.css',
    '@fontsource/ibm-plex-sans/600.css',
    '@fontsource/ibm-plex-mono/400.css',
    '~/style/theme.css',
    '~/style/element.css',
    '~/style/page.css'
  ],
  app: { head: { title: 'Nullet', htmlAttrs: { lang: 'en' }, link: [{ rel: 'icon', href: 'data:,' }] } },
  components: [{ path: '~/components', pathPrefix: false }],
  typescript: { strict: true, tsConfig: { compilerOptions: { noUncheckedIndexedAccess: false } } },
  routeRules: { '/**': { headers: isolation } },
  vite: {
    worker: { format: 'es' },
    server: { headers: isolation },
    optimizeDeps: { include: ['@tanstack/vue-virtual', 'zod', 'immer', 'dayjs', 'dayjs/plugin/*.js', 'lodash-unified'] }
  },
  nitro: { typescript: { tsConfig: { compilerOptions: { noUncheckedIndexedAccess: false } } } }
})
