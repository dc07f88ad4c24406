<script setup lang="ts">
import { computed } from 'vue'

import type { Figures, Interval } from '@/api/client'
import { count, share } from '@/ui/format'

/** Where the host-hours went, as a bar that starts at the ideal line. */
const props = defineProps<{
  figures: Figures
  efficiency: number | null
  withheld: string
}>()

const PARTS = [
  ['in_use', 'In use', 'what active sessions needed at the least'],
  ['lingering', 'Lingering', 'idle and disconnected sessions that held slots'],
  ['fragmentation', 'Scattered', 'sessions spread over more hosts than they needed'],
  ['readiness', 'Ready, empty', 'hosts that stood ready with nobody on them'],
  ['transit', 'Starting and stopping', 'powered but not usable'],
  ['rounding', 'Billing steps', 'what rounding on the bill added'],
] as const

const mean = (interval: Interval) => interval.mean ?? 0
const billed = computed(() => mean(props.figures.host_hours.billed))
const ideal = computed(() => mean(props.figures.host_hours.ideal))
const parts = computed(() =>
  PARTS.map(([key, name, meaning]) => {
    const hours = mean(props.figures.host_hours[key])
    return { key, name, meaning, hours, part: billed.value ? hours / billed.value : 0 }
  }),
)
const mark = computed(() => (billed.value ? Math.min(ideal.value / billed.value, 1) : 0))
</script>

<template>
  <div data-testid="hours">
    <div class="bar" aria-hidden="true">
      <span
        v-for="part in parts"
        :key="part.key"
        :class="['part', part.key]"
        :style="{ width: `${part.part * 100}%` }"
      ></span>
      <span class="mark" :style="{ left: `${mark * 100}%` }"></span>
    </div>
    <p class="ideal">
      <template v-if="efficiency !== null">
        Ideal line <b>{{ count(ideal) }} h</b>: {{ share(efficiency) }} of what is billed
      </template>
      <template v-else>Efficiency is withheld: {{ withheld || 'nothing is billed' }}</template>
    </p>
    <table>
      <caption class="visually-hidden">
        Host-hours of the week by where they went
      </caption>
      <tbody>
        <tr v-for="part in parts" v-show="part.hours >= 0.05" :key="part.key">
          <th scope="row" :title="part.meaning">
            <span :class="['key', part.key]"></span>{{ part.name }}
          </th>
          <td>{{ count(part.hours, 0) }} h</td>
          <td>{{ share(part.part) }}</td>
        </tr>
        <tr class="sum">
          <th scope="row">Billed in the week</th>
          <td>{{ count(billed, 0) }} h</td>
          <td></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.bar {
  position: relative;
  display: flex;
  height: 18px;
  margin: 4px 0 3px;
  border: 1px solid var(--hair-strong);
}
.mark {
  position: absolute;
  top: -4px;
  bottom: -4px;
  width: 0;
  border-left: 2.5px dotted var(--ink);
}
.ideal {
  font-size: 12.5px;
}
.in_use {
  background: var(--water-1);
}
.lingering {
  background: repeating-linear-gradient(90deg, var(--water-2) 0 4px, var(--water-3) 4px 6px);
}
.fragmentation {
  background: repeating-linear-gradient(45deg, var(--water-3) 0 3px, var(--paper) 3px 5px);
}
.readiness {
  background: repeating-linear-gradient(135deg, var(--brass-line) 0 1px, var(--brass-wash) 1px 5px);
}
.transit {
  background: var(--brass);
}
.rounding {
  background: var(--ink-quiet);
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12.5px;
  margin-top: 2px;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 1px 0;
}
td {
  text-align: right;
  width: 64px;
}
.key {
  display: inline-block;
  width: 10px;
  height: 10px;
  margin-right: 6px;
  border: 1px solid var(--hair-strong);
}
.sum th,
.sum td {
  border-top: 1px solid var(--hair-strong);
  font-weight: 650;
}
</style>
