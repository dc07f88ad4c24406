<script setup lang="ts">
import { computed } from 'vue'

import type { Interval, StudyPoint } from '@/api/client'
import { halfOf, meanOf } from '@/ui/format'
import { PARTS, sayPart, STANDING_LOOK, STANDING_MARK } from '@/ui/promise'

/** What fresh weeks say of a design: its money, and every part of its promise. */
const props = defineProps<{ point: StudyPoint; sayMoney: (value: number) => string }>()

function withHalf(figure: Interval, say: (value: number) => string): string {
  const half = halfOf(figure)
  return `${meanOf(figure, say)}${half ? ` ± ${say(half)}` : ''}`
}
const felt = (figure?: Interval) => !!figure && (figure.mean !== null || !!figure.unbounded)
const rows = computed(() => {
  const p = props.point
  const money = props.sayMoney
  return [
    {
      name: 'A month, of what settings can change',
      text: withHalf(p.money, money),
      standing: null,
    },
    { name: 'A month in all', text: money(p.month), standing: null },
    // A study of before has no figures of parts that were declared since.
    ...PARTS.filter((part) => felt(p.promised[part.field])).map((part) => ({
      name: part.title,
      text: withHalf(p.promised[part.field], sayPart(part)),
      standing: p.standings[part.field] ?? null,
    })),
  ]
})
</script>

<template>
  <p v-for="row in rows" :key="row.name" class="row">
    <span>{{ row.name }}</span>
    <b v-if="row.standing" :class="STANDING_LOOK[row.standing]"
      >{{ STANDING_MARK[row.standing] }} {{ row.text }}</b
    >
    <b v-else>{{ row.text }}</b>
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
.risk {
  color: var(--brass);
}
</style>
