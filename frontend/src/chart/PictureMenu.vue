<script setup lang="ts">
import { onBeforeUnmount, ref, shallowRef, type Component } from 'vue'

import { handOver } from '@/ui/files'

import type { Saved } from './save'
import { csvOf, type Table } from './table'

/** What can be taken away of a picture: itself as a file, and its figures. */
const props = defineProps<{ name: string; saved: () => Saved; table: () => Table }>()

const told = ref('')
let later: number | undefined
onBeforeUnmount(() => window.clearTimeout(later))

async function picture(what: string): Promise<void> {
  const { pngOf, svgOf } = await import('./save')
  const file =
    what === 'svg'
      ? new Blob([await svgOf(props.saved())], { type: 'image/svg+xml' })
      : await pngOf(props.saved())
  handOver(`${props.name}.${what}`, file)
}
async function take(what: string): Promise<void> {
  try {
    if (what === 'csv') await navigator.clipboard.writeText(csvOf(props.table()))
    else await picture(what)
    told.value = what === 'csv' ? 'Copied' : 'Saved'
  } catch {
    told.value = what === 'csv' ? 'The browser let nothing be copied' : 'It could not be saved'
  }
  later = window.setTimeout(() => (told.value = ''), 2500)
}

/** The list comes with the first press: few pictures are taken away. */
const list = shallowRef<Component>()
async function open(): Promise<void> {
  try {
    list.value = (await import('./PictureList.vue')).default
  } catch {
    told.value = 'The server cannot be reached'
  }
}
</script>

<template>
  <span class="menu">
    <span class="told" role="status">{{ told }}</span>
    <component :is="list" v-if="list" :name="name" @take="take" />
    <button
      v-else
      class="plain away"
      :aria-label="`Take the picture away: ${name}`"
      title="Save or copy"
      @click="open"
    >
      ⤓
    </button>
  </span>
</template>

<style scoped>
.menu {
  white-space: nowrap;
}
.told {
  font-size: 12px;
  color: var(--ink-quiet);
}
</style>
