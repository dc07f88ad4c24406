<script setup lang="ts">
import { computed } from 'vue'

import type { StudyPoint } from '@/api/client'
import { duration, share } from '@/ui/format'

/** What fresh weeks say of a design: its money, and every part of its promise. */
const props = defineProps<{ point: StudyPoint; sayMoney: (value: number) => string }>()

interface About {
  mean: number | null
  half: number | null
  unbounded: boolean
}
function told(figure: About, say: (value: number) => string): string {
  if (figure.unbounded) return 'no bound'
  if (figure.mean === null) return '–'
  return `${say(figure.mean)}${figure.half ? ` ± ${say(figure.half)}` : ''}`
}
const rows = computed(() => {
  const p = props.point
  const money = props.sayMoney
  return [
    { name: 'A month, of what settings can change', text: told(p.money, money), part: '' },
    { name: 'A month in all', text: money(p.month), part: '' },
    { name: 'Wait, 19 of 20 logons', text: told(p.wait_p95, duration), part: 'wait_p95_seconds' },
    { name: 'Refused', text: told(p.refused, share), part: 'refused_share' },
    { name: 'Strained working time', text: told(p.strained, share), part: 'strained_share' },
    { name: 'Lost returns', text: told(p.lost, share), part: 'lost_returns' },
    { name: 'Forced sign-offs', text: told(p.forced, share), part: 'forced_share' },
    { name: 'Comfort', text: told(p.comfort, share), part: 'comfort' },
  ].map((row) => ({ ...row, standing: row.part ? (p.standings[row.part] ?? '') : '' }))
})
const LOOK: Record<string, string> = { kept: 'good', 'at risk': 'risk', broken: 'bad' }
const MARK: Record<string, string> = { kept: '✓', 'at risk': '?', broken: '✕' }
</script>

<template>
  <p v-for="row in rows" :key="row.name" class="row">
    <span>{{ row.name }}</span>
    <b :class="LOOK[row.standing]">{{ MARK[row.standing] }} {{ row.text }}</b>
  </p>
</template>

<style scoped>
.row {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  border-bottom: 1px solid var(--hair);
  font-variant-numeric: tabular-nums;
}
.good {
  color: var(--lichen);
}
.risk {
  color: var(--brass);
}
.bad {
  color: var(--buoy);
}
</style>
