<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { usePlan } from '@/plan/store'
import { toggleTheme } from '@/theme/theme'

import { entriesOf, found, type Entry } from './palette'

/** Everything that can be gone to or done, found by a few letters. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ save: []; keys: [] }>()
const store = usePlan()
const router = useRouter()
const typed = ref('')
const place = ref(0)
const field = ref<HTMLInputElement>()

/** Entries that are drawn at most. */
const MOST = 12
const entries = computed(() =>
  store.plan
    ? entriesOf(store.plan, {
        save: () => emit('save'),
        undo: store.undo,
        redo: store.redo,
        theme: toggleTheme,
        keys: () => emit('keys'),
      })
    : [],
)
const shown = computed(() => found(entries.value, typed.value).slice(0, MOST))
watch(typed, () => (place.value = 0))
watch(
  open,
  async () => {
    typed.value = ''
    await nextTick()
    field.value?.focus()
  },
  { immediate: true },
)

function take(entry: Entry | undefined): void {
  if (!entry) return
  open.value = false
  if (entry.act) entry.act()
  else if (entry.to) void router.push({ ...entry.to, params: { id: props.id } })
}
function step(by: number): void {
  const many = shown.value.length
  if (many) place.value = (place.value + by + many) % many
}
</script>

<template>
  <ElDialog v-model="open" title="Go to, or do" width="520px" data-testid="palette" @opened="field?.focus()">
    <input
      ref="field"
      v-model="typed"
      role="combobox"
      aria-label="Go to, or do"
      aria-expanded="true"
      aria-controls="palette-list"
      :aria-activedescendant="`palette-${place}`"
      autocomplete="off"
      placeholder="a view, a pool, a group, an action"
      @keydown.down.prevent="step(1)"
      @keydown.up.prevent="step(-1)"
      @keydown.enter.prevent="take(shown[place])"
    />
    <ul id="palette-list" role="listbox" aria-label="What fits">
      <li
        v-for="(entry, k) in shown"
        :id="`palette-${k}`"
        :key="entry.kind + entry.text"
        role="option"
        :aria-selected="k === place"
        @click="take(entry)"
      >
        {{ entry.text }} <small class="quiet">{{ entry.kind }}</small>
        <kbd v-if="entry.key">{{ entry.key }}</kbd>
      </li>
    </ul>
    <p v-if="!shown.length" class="quiet" role="status">Nothing begins like that.</p>
  </ElDialog>
</template>

<style scoped>
input {
  font: inherit;
  width: 100%;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--brass-line);
  padding: 4px 0;
}
ul {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
li {
  padding: 3px 6px;
  cursor: pointer;
  display: flex;
  gap: 8px;
  align-items: baseline;
}
li[aria-selected='true'] {
  background: var(--brass-wash);
}
kbd {
  margin-left: auto;
  font-family: var(--mono);
  font-size: 12px;
}
</style>
