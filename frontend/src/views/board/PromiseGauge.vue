<script setup lang="ts">
import { computed } from 'vue'

import type { Standing } from '@/api/client'
import { count } from '@/ui/format'

/** One figure of the promise: its value against the limit, and the change against the pin. */
const props = defineProps<{
  name: string
  value: number | null
  unbounded: boolean
  /** Nothing where it is not promised. */
  limit: number | null
  /** What the interval over the simulated weeks says. */
  standing: Standing
  text: string
  limitText: string
  half: string
  change: string
  better: boolean | null
  /** Whether the least there may be is promised: then the scale shows what is lacking. */
  least?: boolean
  /** Whether its reasons are shown below. */
  open: boolean
}>()
const emit = defineEmits<{ why: [] }>()

/** So many times the limit fill the scale. */
const MOST = 16
const LIMIT_AT = 0.5
/** The limit stands in the middle; beyond it the same way is as many times more. */
function placeOf(times: number): number {
  if (times <= 1) return times * LIMIT_AT
  return Math.min(LIMIT_AT + (1 - LIMIT_AT) * (Math.log2(times) / Math.log2(MOST)), 1)
}
const marks = [2, 4, 8].map((times) => placeOf(times))
const times = computed(() => {
  const limit = props.limit ?? Infinity
  if (props.unbounded || (limit <= 0 && props.value)) return Infinity
  return limit > 0 ? (props.value ?? 0) / limit : 0
})
const fill = computed(() => placeOf(times.value))
const verdict = computed(() => {
  if (props.limit === null) return 'not promised'
  if (props.standing === 'kept') return `✓ kept, promised ${props.limitText}`
  if (props.standing === 'at risk') return `? at risk, promised ${props.limitText}`
  if (props.least || times.value < 1.95 || times.value === Infinity) {
    return `✕ broken, promised ${props.limitText}`
  }
  return `✕ broken: ${count(times.value, times.value < 10 ? 1 : 0)} times the promised ${props.limitText}`
})
</script>

<template>
  <button
    class="plain gauge"
    :class="limit === null ? 'free' : standing === 'at risk' ? 'risk' : standing"
    :aria-label="`${name}: ${text}, ${limit === null ? 'not promised' : `promise ${limitText}, ${standing}`}. Show why`"
    :aria-expanded="open"
    @click="emit('why')"
  >
    <span class="line">
      <span class="name">{{ name }}</span>
      <span class="value"
        >{{ text }}<small v-if="half"> ± {{ half }}</small></span
      >
    </span>
    <span v-if="limit !== null" class="scale" aria-hidden="true">
      <span class="fill" :style="{ width: `${fill * 100}%` }"></span>
      <span
        v-for="mark in marks"
        :key="mark"
        class="more"
        :style="{ left: `${mark * 100}%` }"
      ></span>
      <span class="limit" :style="{ left: `${LIMIT_AT * 100}%` }"></span>
    </span>
    <span class="line foot">
      <span class="verdict">{{ verdict }}</span>
      <span v-if="change" :class="better === null ? '' : better ? 'good' : 'bad'">{{
        change
      }}</span>
    </span>
  </button>
</template>

<style scoped>
.gauge {
  display: block;
  width: 100%;
  padding: 5px 0;
}
.gauge:hover .name {
  text-decoration: underline;
  text-decoration-color: var(--hair-strong);
  text-underline-offset: 3px;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 8px;
}
.value {
  font-size: 17px;
  font-weight: 650;
}
small {
  font-size: 12px;
  font-weight: 400;
  color: var(--ink-quiet);
}
.scale {
  display: block;
  position: relative;
  height: 7px;
  background: var(--paper-sunk);
  margin: 2px 0;
}
.fill {
  display: block;
  height: 100%;
}
.kept .fill {
  background: var(--lichen);
}
.risk .fill {
  background: var(--brass);
}
.broken .fill {
  background: repeating-linear-gradient(90deg, var(--buoy) 0 5px, var(--buoy-wash) 5px 7px);
}
.limit {
  position: absolute;
  top: -2px;
  bottom: -2px;
  border-left: 2px solid var(--ink);
}
.more {
  position: absolute;
  top: 0;
  bottom: 0;
  border-left: 1px solid var(--hair-strong);
}
.foot {
  font-size: 12px;
  color: var(--ink-quiet);
}
.kept .verdict {
  color: var(--lichen);
}
.risk .verdict {
  color: var(--brass);
  font-weight: 600;
}
.broken .verdict,
.bad {
  color: var(--buoy);
  font-weight: 600;
}
</style>
