<script setup lang="ts">
import { VIEWS } from './views'

/** Every key, on one sheet. */
const open = defineModel<boolean>({ required: true })
const KEYS: readonly (readonly [string, string])[] = [
  ...VIEWS.map(({ key, title }) => [key, `the view ${title}`] as const),
  ['Ctrl+K', 'go to a view, a pool or a group, or do something'],
  ['Ctrl+S', 'save a revision'],
  ['Ctrl+Z, Ctrl+Y', 'undo, redo'],
  ['↑ ↓', 'in a value: a step; with Shift ten steps'],
  ['↑ ↓ ← →', 'in a table: the next cell; on a handle: move it'],
  ['Alt+↑ ↓', 'in a table: a step'],
  ['Insert', 'on a band edge: split the band'],
  ['Enter, Escape', 'take what was typed, or leave it'],
  ['?', 'this sheet'],
]
</script>

<template>
  <ElDialog v-model="open" title="Keys" width="520px" data-testid="keys">
    <dl>
      <template v-for="[key, meaning] in KEYS" :key="key + meaning">
        <dt>{{ key }}</dt>
        <dd>{{ meaning }}</dd>
      </template>
    </dl>
  </ElDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 4px 16px;
}
dt {
  font-family: var(--mono);
  font-size: 12px;
}
dd {
  margin: 0;
}
</style>
