<script setup lang="ts">
import { computed } from 'vue'

import { called } from '@/plan/called'
import { PARTS } from '@/ui/promise'
import { money } from '@/ui/format'
import { usePoolRows } from '@/plan/poolRows'

/** Before anything is searched for: every pool, and what tuning it could save at most. */
const props = defineProps<{ chosen: string; currency: string }>()
const emit = defineEmits<{ choose: [pool: string] }>()
const { rows } = usePoolRows()

const say = (value: number) => money(value, props.currency)
const told = computed(() =>
  rows.value
    .map((row) => {
      const now = Number(row.figures.cost.settable)
      const least = Number(row.figures.cost.ideal)
      const missed = PARTS.filter((part) => {
        const { limit, kept } = row.verdicts[part.field]
        return limit !== null && !kept
      })
      return { id: row.id, now, least, gain: Number(row.figures.cost.gain), missed }
    })
    .sort((a, b) => b.gain - a.gain),
)
const most = computed(() => Math.max(1, ...told.value.map((row) => row.now)))
/** Small pools are seen beside large ones: lengths go with the square root. */
const at = (value: number) => `${Math.sqrt(value / most.value) * 100}%`
</script>

<template>
  <section class="begin" data-testid="where-to-begin">
    <p class="quiet">
      Nothing is searched for yet. A search tries thousands of schedules on simulated weeks, tells
      the best on weeks that it has not seen, and says what each change does.
    </p>
    <table v-if="told.length">
      <thead>
        <tr>
          <th scope="col">Where to begin</th>
          <th scope="col">From the ideal line to what settings can change of a month</th>
          <th scope="col" class="num">A month</th>
          <th scope="col" class="num">Ideal line</th>
          <th scope="col" class="num">To gain at most</th>
          <th scope="col">Promise</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in told" :key="row.id" :class="{ on: row.id === chosen }">
          <th scope="row">
            <button class="link" :aria-pressed="row.id === chosen" @click="emit('choose', row.id)">
              {{ called('pools', row.id) }}
            </button>
          </th>
          <td class="reach" aria-hidden="true">
            <span
              class="bar"
              :style="{ left: at(row.least), right: `calc(100% - ${at(row.now)})` }"
            />
          </td>
          <td class="num">{{ say(row.now) }}</td>
          <td class="num">{{ say(row.least) }}</td>
          <td class="num">
            <b>{{ say(row.gain) }}</b>
          </td>
          <td :class="row.missed.length ? 'bad' : 'good'">
            {{
              row.missed.length
                ? `✗ ${row.missed.map((part) => part.short).join(', ')}`
                : '✓ kept in these weeks'
            }}
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.begin {
  font-size: 13px;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin-top: 8px;
}
th,
td {
  text-align: left;
  font-weight: 400;
  padding: 4px 12px 4px 0;
  border-bottom: 1px solid var(--hair);
}
thead th {
  color: var(--ink-quiet);
}
.num {
  text-align: right;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
.reach {
  position: relative;
  width: 30%;
}
.bar {
  position: absolute;
  top: 8px;
  height: 8px;
  border-left: 2px solid var(--ink);
  background: var(--brass-line);
}
.on th {
  font-weight: 650;
}
</style>
