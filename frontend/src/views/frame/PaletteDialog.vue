<script setup lang="ts">
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, type PlanSummary } from '@/api/client'
import { told } from '@/ask/told'
import { fieldsBelow } from '@/help/hints'
import { usePlan } from '@/plan/store'
import { addPart } from '@/parts/parts'
import { toggleTheme } from '@/theme/theme'

import { entriesOf, fieldEntries, FIELDS, found, type Entry } from './palette'
import { focusField } from './focusField'

/** Everything that can be gone to or done, found by a few letters. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ save: []; keys: [] }>()
const store = usePlan()
const router = useRouter()
const route = useRoute()
const typed = ref('')
const plans = shallowRef<PlanSummary[]>([])
const place = ref(0)
const field = ref<HTMLInputElement>()

/** Entries that are drawn at most. */
const MOST = 12
const actions = {
  add: (what: Parameters<typeof addPart>[0], name: string) => void addPart(what, name),
  save: () => emit('save'),
  undo: store.undo,
  redo: store.redo,
  theme: toggleTheme,
  keys: () => emit('keys'),
}
const entries = computed(() => {
  if (!store.plan) return []
  const looked = typeof route.query.pool === 'string' ? route.query.pool : undefined
  const fields = Object.keys(FIELDS).flatMap((begin) => fieldsBelow(begin))
  return [
    ...entriesOf(store.plan, plans.value, actions),
    ...fieldEntries(fields, looked ?? store.plan.pools[0]?.id),
  ]
})
const shown = computed(() => found(entries.value, typed.value).slice(0, MOST))
watch(typed, () => (place.value = 0))
watch(
  open,
  async () => {
    typed.value = ''
    await nextTick()
    field.value?.focus()
    const answer = open.value ? await told(api.GET('/api/plans')) : null
    if (answer?.data) plans.value = answer.data.plans.filter((each) => each.id !== props.id)
  },
  { immediate: true },
)

function take(entry: Entry | undefined): void {
  if (!entry) return
  open.value = false
  entry.act?.()
  if (!entry.to) return
  const params = entry.to.name === 'plans' ? {} : { id: props.id }
  const { field } = entry
  void router.push({ params, ...entry.to }).then(() => field && focusField(field))
}
function step(by: number): void {
  const many = shown.value.length
  if (many) place.value = (place.value + by + many) % many
}
</script>

<template>
  <ElDialog
    v-model="open"
    title="Go to, or do"
    width="520px"
    data-testid="palette"
    @opened="field?.focus()"
  >
    <input
      ref="field"
      class="text-box"
      v-model="typed"
      role="combobox"
      aria-label="Go to, or do"
      aria-expanded="true"
      aria-controls="palette-list"
      :aria-activedescendant="`palette-${place}`"
      autocomplete="off"
      placeholder="a view, a pool, a group, a field, a plan, an action"
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
        <span>{{ entry.text }}</span> <small class="quiet">{{ entry.kind }}</small>
        <kbd v-if="entry.key">{{ entry.key }}</kbd>
      </li>
    </ul>
    <p v-if="!shown.length" class="quiet" role="status">Nothing begins like that.</p>
  </ElDialog>
</template>

<style scoped>
input {
  width: 100%;
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
