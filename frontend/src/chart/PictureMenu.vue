<script setup lang="ts">
import { ref } from 'vue'

import { handOver, pngOf, svgOf, type Saved } from './save'
import { csvOf, type Table } from './table'

/** What can be taken away of a picture: itself as a file, and its figures. */
const props = defineProps<{ name: string; saved: () => Saved; table: () => Table }>()

const told = ref('')
async function take(what: string): Promise<void> {
  try {
    if (what === 'svg') {
      handOver(
        `${props.name}.svg`,
        new Blob([await svgOf(props.saved())], { type: 'image/svg+xml' }),
      )
    } else if (what === 'png') handOver(`${props.name}.png`, await pngOf(props.saved()))
    else await navigator.clipboard.writeText(csvOf(props.table()))
    told.value = what === 'csv' ? 'Copied' : 'Saved'
  } catch {
    told.value = what === 'csv' ? 'The browser let nothing be copied' : 'It could not be saved'
  }
  setTimeout(() => (told.value = ''), 2500)
}
</script>

<template>
  <span class="menu">
    <span class="told" role="status">{{ told }}</span>
    <ElDropdown trigger="click" placement="top-end" @command="take">
      <button class="plain" :aria-label="`Take the picture away: ${name}`" title="Save or copy">
        ⤓
      </button>
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem command="svg">Save as SVG</ElDropdownItem>
          <ElDropdownItem command="png">Save as PNG</ElDropdownItem>
          <ElDropdownItem command="csv">Copy its figures as CSV</ElDropdownItem>
        </ElDropdownMenu>
      </template>
    </ElDropdown>
  </span>
</template>

<style scoped>
.menu {
  white-space: nowrap;
}
button {
  width: 20px;
  height: 18px;
  font-size: 14px;
  line-height: 16px;
  text-align: center;
  color: var(--ink-quiet);
}
button:hover {
  color: var(--ink);
  background: var(--paper-sunk);
}
.told {
  font-size: 12px;
  color: var(--ink-quiet);
}
</style>
