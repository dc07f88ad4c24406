<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'

import { night } from '@/theme/theme'

import { colourOf } from './colours'
import { useLayer } from './frame'
import { CanvasPen, type Pen } from './pen'

/** A canvas that is drawn anew whenever `draw` is another; a layer of the picture it stands in. */
const props = defineProps<{
  x: number
  y: number
  width: number
  height: number
  draw: (pen: Pen) => void
}>()
const canvas = ref<HTMLCanvasElement>()

function paint(): void {
  const element = canvas.value
  const context = element?.getContext('2d')
  if (!element || !context) return
  const ratio = devicePixelRatio || 1
  const [width, height] = [Math.round(props.width * ratio), Math.round(props.height * ratio)]
  // To set its size makes a canvas anew, and costs more than to wipe it.
  if (element.width !== width) element.width = width
  if (element.height !== height) element.height = height
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  context.globalAlpha = 1
  context.clearRect(0, 0, props.width, props.height)
  props.draw(new CanvasPen(context, colourOf, ratio))
}
onMounted(paint)
watch([() => props.draw, () => props.width, () => props.height, night], paint, { flush: 'post' })
useLayer(() => ({
  x: props.x,
  y: props.y,
  width: props.width,
  height: props.height,
  draw: props.draw,
}))
</script>

<template>
  <canvas
    ref="canvas"
    aria-hidden="true"
    :style="{ left: `${x}px`, top: `${y}px`, width: `${width}px`, height: `${height}px` }"
  ></canvas>
</template>

<style scoped>
canvas {
  position: absolute;
  display: block;
}
</style>
