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
/** Smaller files gain nothing by it. */
const SMALL = 300

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
  resolve: {
    alias: {
      '@ctrl/tinycolor': fileURLToPath(new URL('./src/theme/noColour.ts', import.meta.url)),
      '@': fileURLToPath(new URL('./src', import.meta.url)),
    },
  },
  build: {
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    // Few files: each file more is a request with its headers, and compresses less than as a piece
    // of a larger one. The Board reads `shared` and `pictures`; the views that edit lists share the
    // third, what is asked of the Board beside its picture is one, and what is bought in comes with the
    // first dialog or table.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'shared', priority: 4, test: /src\/(api|ask|help|plan|stores|ui|chart\/table|views\/frame\/(Plan|Pool|Week))|node_modules\/immer\// },
            { name: 'bought', priority: 3, test: /node_modules\/(element-plus|@element-plus|@popperjs|@vueuse|lodash-es)\// },
            { name: 'pictures', priority: 2, test: /src\/(chart\/(?!Picture(Menu|List))|water\/)|node_modules\/d3-array\// },
            { name: 'more', priority: 2, test: /src\/views\/board\/(TableDialog|BandTable|WaitersDialog|YearDialog|DayKinds|YearOfWeeks|YearStrip|PlanSentences|LoadPicture)/ },
            { name: 'editing', priority: 1, test: /src\/(views\/(people|hosts|pools)|table|parts)\// },
          ],
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
