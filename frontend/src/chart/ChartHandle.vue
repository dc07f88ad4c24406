<script setup lang="ts">
import { ref, watch } from 'vue'

import { drag, keyed, type Range } from './handle'
import { useFrame, type Point } from './frame'

/** A handle in a picture: dragged with the pointer, or moved by keys, within its range. */
const props = withDefaults(
  defineProps<{
    label: string
    /** The value in words. */
    text: string
    value: number
    min: number
    max: number
    step?: number
    page?: number
    /** The value that a place in the plot means. */
    valueAt: (at: Point) => number
    /**
     * Where a value stands, in pixels along its way: the handle then follows the hand by itself,
     * however seldom its value does.
     */
    placeOf?: (value: number) => number
    upright?: boolean
    disabled?: boolean
  }>(),
  { step: 1, page: 6, placeOf: undefined },
)
const emit = defineEmits<{
  take: []
  move: [value: number, done: boolean]
  cancel: []
  /** A key that moves no handle: another part may know it. */
  key: [event: KeyboardEvent]
}>()

const frame = useFrame()
const range = (): Range => ({
  value: props.value,
  min: props.min,
  max: props.max,
  step: props.step,
  page: props.page,
})

const root = ref<SVGGElement>()
/** Where the hand is, while it holds the handle. */
let held: number | null = null
/** Move what is drawn to where the hand is: nothing is drawn anew for it. */
function follow(): void {
  const element = root.value
  if (!element || !props.placeOf) return
  const away = held === null ? 0 : props.placeOf(held) - props.placeOf(props.value)
  const by = props.upright ? `0, ${away}px` : `${away}px, 0`
  element.style.transform = held === null ? '' : `translate(${by})`
}
watch(() => props.value, follow, { flush: 'post' })

function press(event: PointerEvent): void {
  if (props.disabled || event.button !== 0) return
  emit('take')
  drag(event, {
    pointAt: frame.pointAt,
    valueAt: (at) => props.valueAt(at),
    range: range(),
    move: (value, done) => {
      held = done ? null : value
      follow()
      emit('move', value, done)
    },
    cancel: () => {
      held = null
      follow()
      emit('cancel')
    },
  })
}
function key(event: KeyboardEvent): void {
  if (props.disabled) return
  const value = keyed(event, range())
  if (value === null) return emit('key', event)
  event.preventDefault()
  if (value !== props.value) emit('move', value, true)
}
</script>

<template>
  <g
    ref="root"
    class="handle"
    :class="{ upright, disabled }"
    :tabindex="disabled ? undefined : 0"
    role="slider"
    :aria-disabled="disabled || undefined"
    :aria-label="label"
    :aria-orientation="upright ? 'vertical' : 'horizontal'"
    :aria-valuemin="min"
    :aria-valuemax="max"
    :aria-valuenow="value"
    :aria-valuetext="text"
    @focus="emit('take')"
    @pointerdown="press"
    @keydown="key"
  >
    <slot />
  </g>
</template>

<style scoped>
.handle {
  outline: none;
  pointer-events: auto;
  cursor: ew-resize;
  touch-action: none;
}
.handle:active {
  will-change: transform;
}
.handle.upright {
  cursor: ns-resize;
}
.handle.disabled {
  cursor: default;
}
.handle :slotted(.catch) {
  fill: transparent;
}
.handle :slotted(.grip) {
  fill: var(--paper-raised);
  stroke: var(--ink);
  stroke-width: 1.2;
}
.handle:hover :slotted(.grip) {
  fill: var(--brass);
}
.handle:focus-visible :slotted(.grip),
.handle:focus-visible :slotted(.rail) {
  stroke: var(--focus);
  stroke-width: 3;
  stroke-dasharray: none;
}
.handle :slotted(.rail) {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
}
.handle :slotted(.tag) {
  font-size: 11.5px;
  text-anchor: middle;
  fill: var(--ink);
  paint-order: stroke;
  stroke: var(--paper);
  stroke-width: 3px;
  stroke-linejoin: round;
  pointer-events: none;
}
</style>
