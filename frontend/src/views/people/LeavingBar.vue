<script setup lang="ts">
import type { Leaving } from '@/api/client'
import ChartHandle from '@/chart/ChartHandle.vue'
import { count } from '@/ui/format'

import { moveDivider } from './pattern'

/** How people leave, as a bar of three parts whose dividers are dragged. */
const props = defineProps<{ leaving: Leaving; x: number; height: number }>()
const emit = defineEmits<{
  change: [edit: (leaving: Leaving) => void, done: boolean]
  cancel: []
}>()

const WIDTH = 16
const at = (share: number) => props.height * (1 - share)
const parts = () => {
  const { sign_off, disconnect, walk_away } = props.leaving
  return [
    { name: 'sign off', share: sign_off, low: 0, tone: 'off' },
    { name: 'disconnect', share: disconnect, low: sign_off, tone: 'gone' },
    { name: 'walk away', share: walk_away, low: sign_off + disconnect, tone: 'away' },
  ]
}
const dividers = () =>
  [
    { index: 0 as const, share: props.leaving.sign_off, name: 'Share that signs off' },
    {
      index: 1 as const,
      share: props.leaving.sign_off + props.leaving.disconnect,
      name: 'Share that does not walk away',
    },
  ] as const
</script>

<template>
  <g role="group" aria-label="How people leave at the end of the day">
    <text :x="x" y="-26" class="axis-text">at the end</text>
    <g v-for="part in parts()" :key="part.name">
      <rect
        :x="x"
        :y="at(part.low + part.share)"
        :width="WIDTH"
        :height="height * part.share"
        :class="part.tone"
      />
      <text
        v-if="part.share >= 0.05"
        :x="x + WIDTH + 6"
        :y="at(part.low + part.share / 2)"
        class="axis-text name"
      >
        <tspan :x="x + WIDTH + 6">{{ part.name }}</tspan>
        <tspan :x="x + WIDTH + 6" dy="12">{{ count(part.share * 100) }} %</tspan>
      </text>
    </g>
    <ChartHandle
      v-for="divider in dividers()"
      :key="divider.index"
      upright
      data-testid="leaving"
      :label="divider.name"
      :text="`${count(divider.share * 100)} %`"
      :value="Math.round(divider.share * 100)"
      :min="divider.index ? Math.round(leaving.sign_off * 100) : 0"
      :max="divider.index ? 100 : Math.round((1 - leaving.walk_away) * 100)"
      :value-at="(to) => 100 - (100 * to.y) / height"
      @move="
        (percent, done) => emit('change', (l) => moveDivider(l, divider.index, percent / 100), done)
      "
      @cancel="emit('cancel')"
    >
      <rect :x="x - 6" :y="at(divider.share) - 6" :width="WIDTH + 12" height="12" class="catch" />
      <rect :x="x - 5" :y="at(divider.share) - 2" :width="WIDTH + 10" height="4" class="grip" />
    </ChartHandle>
  </g>
</template>

<style scoped>
.axis-text.name {
  font-size: 11px;
}
.off {
  fill: var(--water-1);
}
.gone {
  fill: var(--water-3);
}
.away {
  fill: var(--water-2);
}
</style>
