import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { compression } from 'vite-plugin-compression2'
import { VitePWA } from 'vite-plugin-pwa'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [
    // White space between elements is a space, whether the formatter breaks the line there or not.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    Components({
      dts: 'src/components.generated.d.ts',
      dirs: [],
      resolvers: [ElementPlusResolver({ importStyle: 'css' })],
    }),
    // The server hands out the compressed twins made here; it compresses nothing itself.
    compression({ algorithms: ['gzip'], include: /\.(js|css|html|svg)$/, threshold: 1000 }),
    // The shell is kept, so that a reload at the bench works without network. Data is never cached here: the
    // bench keeps its own in IndexedDB, and a taster's answer must not be found in a cache.
    VitePWA({
      registerType: 'autoUpdate',
      injectRegister: null,
      manifest: {
        name: 'Yeasty Trial',
        short_name: 'Yeasty Trial',
        display: 'standalone',
        start_url: '/',
        background_color: '#f5f0e6',
        theme_color: '#f5f0e6',
        icons: [{ src: '/loaf.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
      workbox: {
        globPatterns: ['**/*.{js,css,html,svg,woff2}'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//, /^\/p\//, /^\/style\//, /^\/trust/],
        maximumFileSizeToCacheInBytes: 3_000_000,
      },
    }),
  ],
  build: { target: 'es2022', chunkSizeWarningLimit: 700, assetsInlineLimit: 0 },
  server: { proxy: { '/api': 'http://127.0.0.1:8765', '/p/': 'http://127.0.0.1:8765' } },
  // Element Plus brings its style with each part: both go through Vite in tests too.
  test: { include: ['src/**/*.test.ts'], server: { deps: { inline: ['element-plus'] } } },
})
