<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, ref, useId } from 'vue'

import { days, hintOf, numbersOf } from '@/help/hints'

import FieldHint from './FieldHint.vue'
import { fullDayName } from './format'
import { readingOf, shownOf, steppedOf, steps, type Rule, type Typed } from './typing'
import WrongNote from './WrongNote.vue'

/** A value inside a sentence that is edited where it stands; its meaning shows on hover and focus.
 *
 * It is committed on Enter, on leaving, and when a run of arrow keys is over. A value that is
 * refused stays in the box with its reason. */
const props = defineProps<{
  modelValue: number | string
  label: string
  path?: string
  kind?: Typed
  scale?: number
  list?: string
  allowed?: readonly string[]
  unit?: string
  /** Whether a text can be read, where it is whoever holds the token that reads it. */
  check?: (text: string) => object
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | string] }>()

/** How long no arrow key is pressed until its run is over, in milliseconds. */
const RUN_ENDS = 350

const editing = ref<string | null>(null)
const wrong = ref('')
const focused = ref(false)
const id = useId()
const input = ref<HTMLInputElement>()
let run: number | undefined
const rule = computed<Rule>(() => ({
  kind: props.kind ?? 'number',
  scale: props.scale,
  allowed: props.allowed,
  ...(props.path ? numbersOf(props.path) : {}),
  ...(props.kind === 'date' ? days.value : {}),
}))
const shown = computed(() => shownOf(props.modelValue, rule.value))
const text = computed(() => editing.value ?? shown.value)
/** A date says which day of the week it is. */
const hint = computed(() => {
  if (props.kind === 'date') return fullDayName(String(props.modelValue))
  return props.path ? hintOf(props.path) : ''
})

/** A text that is checked elsewhere may be empty. */
const read = (text: string) => (props.check ? { value: text.trim() } : readingOf(text, rule.value))

function commit(): void {
  window.clearTimeout(run)
  if (editing.value === null) return
  const checked = props.check?.(editing.value) ?? {}
  const reading = 'wrong' in checked ? checked : read(editing.value)
  wrong.value = 'wrong' in reading ? String(reading.wrong) : ''
  if (!('value' in reading)) return
  const typed = editing.value.trim()
  editing.value = null
  if (typed !== shown.value && reading.value !== props.modelValue) {
    emit('update:modelValue', reading.value)
  }
}

function leave(): void {
  focused.value = false
  commit()
}

function cancel(): void {
  window.clearTimeout(run)
  editing.value = null
  wrong.value = ''
  void nextTick(() => input.value?.select())
}

function step(event: KeyboardEvent, direction: number): void {
  if (!steps(rule.value)) return
  event.preventDefault()
  editing.value = steppedOf(text.value, rule.value, direction * (event.shiftKey ? 10 : 1))
  window.clearTimeout(run)
  run = window.setTimeout(commit, RUN_ENDS)
}

onBeforeUnmount(() => {
  window.clearTimeout(run)
})
defineExpose({
  /** Put the cursor here, and what stands here where it is typed over. */
  select: () => {
    input.value?.focus()
    input.value?.select()
  },
})
</script>

<template>
  <span class="token value">
    <input
      ref="input"
      :value="text"
      :aria-label="label"
      :data-path="path"
      :aria-invalid="wrong !== ''"
      :aria-describedby="wrong ? id : undefined"
      :data-typing="editing !== null || undefined"
      :title="hint"
      :list="list"
      :inputmode="rule.kind === 'number' || rule.kind === 'money' ? 'decimal' : 'text'"
      :style="{ width: `${Math.max(text.length, 1) + 1.2}ch` }"
      autocomplete="off"
      spellcheck="false"
      @input="editing = ($event.target as HTMLInputElement).value"
      @change="commit"
      @focus="focused = true"
      @blur="leave"
      @keydown.enter.prevent="commit"
      @keydown.esc="cancel"
      @keydown.up="step($event, 1)"
      @keydown.down="step($event, -1)"
    /><span v-if="unit" class="unit">&hairsp;{{ unit }}</span>
    <WrongNote v-if="wrong" :id="id" :text="wrong" />
    <FieldHint v-else-if="focused && hint" :text="hint" />
  </span>
</template>

<style src="./token.css"></style>

<style scoped>
input::-webkit-calendar-picker-indicator {
  display: none !important;
}
.unit {
  font-weight: 400;
}
</style>
