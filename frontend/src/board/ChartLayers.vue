<script setup lang="ts">
import type { Paths } from './water'

defineProps<{ paths: Paths; ghost: { quay: string; surface: string } | null; height: number }>()
</script>

<template>
  <g class="layers" aria-hidden="true">
    <defs>
      <pattern id="harbor" width="7" height="7" patternUnits="userSpaceOnUse">
        <path d="M-1 8 8 -1" class="harbor-line" />
      </pattern>
      <pattern id="swell" width="14" height="6" patternUnits="userSpaceOnUse">
        <path d="M0 3q3.5-2.6 7 0t7 0" class="swell-line" />
      </pattern>
      <pattern id="still" width="5" height="5" patternUnits="userSpaceOnUse">
        <circle cx="1.5" cy="1.5" r="0.8" class="still-dot" />
      </pattern>
      <pattern id="flood" width="6" height="6" patternUnits="userSpaceOnUse">
        <path d="M0 0v6M3 0v6" class="flood-line" />
      </pattern>
    </defs>
    <path :d="paths.harbor" class="harbor-wash" />
    <path :d="paths.harbor" fill="url(#harbor)" />
    <path :d="paths.active" class="active" />
    <path :d="paths.idle" class="idle" />
    <path :d="paths.idle" fill="url(#swell)" />
    <path :d="paths.disconnected" class="disconnected" />
    <path :d="paths.disconnected" fill="url(#still)" />
    <path :d="paths.flood" class="flood" />
    <path :d="paths.flood" fill="url(#flood)" />
    <path :d="paths.billed" class="billed" />
    <path :d="paths.quay" class="quay" />
    <path :d="paths.ideal" class="ideal-under" />
    <path :d="paths.ideal" class="ideal" />
    <template v-if="ghost">
      <path :d="ghost.quay" class="ghost quay-ghost" />
      <path :d="ghost.surface" class="ghost" />
    </template>
  </g>
</template>

<style scoped>
.harbor-wash {
  fill: var(--brass-wash);
  opacity: 0.45;
}
.harbor-line {
  stroke: var(--brass-line);
  stroke-width: 0.8;
  opacity: 0.55;
}
.active {
  fill: var(--water-1);
}
.idle {
  fill: var(--water-2);
}
.disconnected {
  fill: var(--water-3);
}
.swell-line {
  fill: none;
  stroke: var(--paper);
  stroke-width: 0.8;
  opacity: 0.6;
}
.still-dot {
  fill: var(--water-1);
}
.flood {
  fill: var(--buoy);
  stroke: var(--buoy);
  stroke-width: 1.2;
  opacity: 0.85;
}
.flood-line {
  stroke: var(--paper);
  stroke-width: 0.7;
  opacity: 0.55;
}
.quay {
  fill: none;
  stroke: var(--brass);
  stroke-width: 2.6;
  stroke-linejoin: miter;
}
.billed {
  fill: none;
  stroke: var(--brass-line);
  stroke-width: 1;
}
.ideal,
.ideal-under {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.4;
  stroke-dasharray: 1.5 3;
  stroke-linecap: round;
}
.ideal-under {
  stroke: var(--paper);
  stroke-width: 2.2;
  stroke-dasharray: none;
  opacity: 0.45;
}
.ghost {
  fill: none;
  stroke: var(--ink-quiet);
  stroke-width: 1.2;
  stroke-dasharray: 6 4;
}
.quay-ghost {
  stroke: var(--brass);
}
</style>
