import vue from '@vitejs/plugin-vue'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { brotliCompressSync, gzipSync } from 'node:zlib'
import ElementPlus from 'unplugin-element-plus/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import Components from 'unplugin-vue-components/vite'
import { defineConfig } from 'vitest/config'

const MADE = fileURLToPath(new URL('./dist', import.meta.url))
const PACKED = /\.(js|css|html|svg)$/
/** Smaller files fit into a packet as they are. */
const SMALL = 1200

/** Texts stand beside themselves compressed, so that the server need not do it for every page. */
const packed = {
  name: 'packed',
  apply: 'build' as const,
  closeBundle() {
    for (const name of readdirSync(MADE, { recursive: true, encoding: 'utf8' })) {
      if (!PACKED.test(name)) continue
      const text = readFileSync(join(MADE, name))
      if (text.length < SMALL) continue
      writeFileSync(join(MADE, `${name}.br`), brotliCompressSync(text))
      writeFileSync(join(MADE, `${name}.gz`), gzipSync(text, { level: 9 }))
    }
  },
}

export default defineConfig({
  plugins: [
    // Every component is written with setup.
    vue({ features: { optionsAPI: false } }),
    Components({ dts: 'components.d.ts', dirs: [], resolvers: [ElementPlusResolver()] }),
    ElementPlus({}),
    packed,
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    // What every view of a plan has is one file: each file more is a request with its headers.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [{ name: 'shared', test: /src\/(api|ask|help|plan|stores|ui|chart\/table|views\/frame\/(Plan|Pool|Week))|node_modules\/immer\// }],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8466' } },
  // Its parts bring their styles, which only the bundler can read.
  // One environment for all files: to make one for each took as long as all tests.
  test: {
    environment: 'happy-dom',
    isolate: false,
    server: { deps: { inline: ['element-plus'] } },
  },
})
