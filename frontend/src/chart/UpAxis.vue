<script setup lang="ts">
import { computed } from 'vue'

import type { Tick } from './axis'

/** An axis at a side of a picture: with level lines at the left, with short marks at the right. */
const props = defineProps<{
  ticks: readonly Tick[]
  y: (at: number) => number
  width: number
  title: string
  right?: boolean
}>()
const from = computed(() => (props.right ? props.width : 0))
</script>

<template>
  <g aria-hidden="true">
    <g v-for="tick in ticks" :key="tick.at">
      <line
        :x1="from"
        :x2="right ? width + 4 : width"
        :y1="y(tick.at)"
        :y2="y(tick.at)"
        :class="right ? 'ground' : 'level'"
      />
      <text
        :x="right ? width + 8 : -8"
        :y="y(tick.at) + 4"
        class="axis-text"
        :class="{ end: !right }"
      >
        {{ tick.text }}
      </text>
    </g>
    <text :x="right ? width + 8 : -6" y="-9" class="axis-text title" :class="{ end: !right }">
      {{ title }}
    </text>
  </g>
</template>

<style src="./axis.css"></style>
