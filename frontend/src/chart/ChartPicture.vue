<script setup lang="ts">
import { ref, useSlots } from 'vue'

import { provideFrame } from './frame'
import PictureMenu from './PictureMenu.vue'
import type { Saved } from './save'
import type { Table } from './table'

/**
 * A picture: axes at the bottom, canvases over them, handles and words on top in a drawing of their
 * own, so that a handle that moves leaves the rest as it is drawn.
 */
const props = withDefaults(
  defineProps<{
    /** Names its files. */
    name: string
    label: string
    width: number
    height: number
    left?: number
    top?: number
    /** Its figures, where they can be copied. */
    table?: () => Table
    /** Where its menu stands: in the corner above where the one below is taken. */
    menuAbove?: boolean
    /** What stands in its place where there is nothing to draw. */
    empty?: string
    /** Whether it shows what is no longer asked for. */
    stale?: boolean
  }>(),
  { left: 0, top: 0, table: undefined, menuAbove: false, empty: '', stale: false },
)
const slots = useSlots()
const root = ref<HTMLElement>()
const drawing = ref<SVGSVGElement>()
const over = ref<SVGSVGElement>()
const frame = provideFrame((event) => {
  const box = root.value?.getBoundingClientRect()
  return {
    x: event.clientX - (box?.left ?? 0) - props.left,
    y: event.clientY - (box?.top ?? 0) - props.top,
  }
})
const saved = (): Saved => ({
  width: props.width,
  height: props.height,
  title: props.label,
  under: drawing.value,
  layers: [...frame.layers].map((layer) => layer()),
  over: over.value,
})
defineExpose({ pointAt: frame.pointAt, saved })
</script>

<template>
  <div
    ref="root"
    class="chart-picture"
    :class="{ stale }"
    role="group"
    :aria-label="label"
    :style="{ width: `${width}px`, height: `${height}px` }"
  >
    <p v-if="empty" class="nothing">{{ empty }}</p>
    <template v-else>
      <svg ref="drawing" :width="width" :height="height">
        <g :transform="`translate(${left} ${top})`"><slot /></g>
      </svg>
      <slot name="canvas" />
      <svg v-if="slots.over" ref="over" class="over" :width="width" :height="height">
        <g :transform="`translate(${left} ${top})`"><slot name="over" /></g>
      </svg>
      <PictureMenu
        v-if="table"
        class="corner"
        :class="{ above: menuAbove }"
        :name="name"
        :saved="saved"
        :table="table"
      />
    </template>
  </div>
</template>

<style scoped>
.chart-picture {
  position: relative;
  flex: none;
  /* What changes in it moves nothing around it. */
  contain: size layout style;
  user-select: none;
}
.chart-picture:focus-visible {
  outline: 2px solid var(--focus);
  outline-offset: -2px;
}
.chart-picture.stale {
  opacity: 0.55;
}
svg {
  position: absolute;
  left: 0;
  top: 0;
  display: block;
}
.over {
  pointer-events: none;
  will-change: transform;
}
.corner {
  position: absolute;
  right: 2px;
  bottom: 1px;
}
.corner.above {
  bottom: auto;
  top: 3px;
}
.nothing {
  padding: 24px 16px;
  color: var(--ink-quiet);
}
</style>
