import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import ElementPlus from 'unplugin-element-plus/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import Components from 'unplugin-vue-components/vite'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [
    vue(),
    Components({ dts: 'components.d.ts', dirs: [], resolvers: [ElementPlusResolver()] }),
    ElementPlus({}),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  server: { proxy: { '/api': 'http://127.0.0.1:8466' } },
  // Its parts bring their styles, which only the bundler can read.
  // One environment for all files: to make one for each took as long as all tests.
  test: {
    environment: 'happy-dom',
    isolate: false,
    server: { deps: { inline: ['element-plus'] } },
  },
})
