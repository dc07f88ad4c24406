<script setup lang="ts">
import type { Tick } from './axis'

/** The axis along the ground of a picture. */
defineProps<{ ticks: readonly Tick[]; x: (at: number) => number; width: number; y: number }>()
</script>

<template>
  <g aria-hidden="true">
    <line x1="0" :x2="width" :y1="y" :y2="y" class="ground" />
    <g v-for="tick in ticks" :key="tick.at">
      <line :x1="x(tick.at)" :x2="x(tick.at)" :y1="y" :y2="y + 4" class="ground" />
      <text :x="x(tick.at)" :y="y + 16" class="axis-text middle">{{ tick.text }}</text>
    </g>
  </g>
</template>

<style src="./axis.css"></style>
