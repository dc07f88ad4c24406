<script setup lang="ts">
import { computed } from 'vue'

import type { Study } from '@/api/client'
import { money } from '@/ui/format'

type Explained = NonNullable<NonNullable<Study['answer']>['explained']>

/** From the plan of today to the tuned one: each change with what it saves where it stands. */
const props = defineProps<{ explained: Explained; currency: string }>()
const say = (value: number) => money(value, props.currency)

/** Where each bar begins and ends, as shares of the most that a month costs on the way. */
const bars = computed(() => {
  let now = props.explained.before
  const levels = [now]
  for (const step of props.explained.steps) levels.push((now -= step.saves))
  const most = Math.max(...levels)
  const least = Math.min(...levels)
  const low = least - (most - least) * 0.15
  const at = (value: number) => ((value - low) / Math.max(most - low, 1e-9)) * 100
  return props.explained.steps.map((step, k) => {
    const before = levels[k] ?? 0
    const after = levels[k + 1] ?? 0
    return { left: at(Math.min(before, after)), width: Math.abs(at(before) - at(after)), step }
  })
})
const total = computed(() => props.explained.before - props.explained.after)
const alone = (saves: number) =>
  Math.abs(saves) < 0.5 ? 'nothing' : `${say(Math.abs(saves))} ${saves > 0 ? 'more' : 'less'}`
</script>

<template>
  <table class="steps" data-testid="steps">
    <thead>
      <tr>
        <th scope="col">Changes: what mends the promise, then what saves most</th>
        <th scope="col" class="path">
          {{ say(explained.before) }} today → {{ say(explained.after) }}
        </th>
        <th scope="col" class="num">On top of those above</th>
        <th
          scope="col"
          class="num"
          title="Taken back from the tuned plan with all other changes left. These need not add up: two changes may do the same work, or one only pays with another."
        >
          Without it alone
        </th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(bar, k) in bars" :key="k">
        <td>
          {{ bar.step.change }}.
          <small class="quiet">{{ bar.step.text }}</small>
        </td>
        <td class="path" aria-hidden="true">
          <span
            class="bar"
            :class="bar.step.saves >= 0 ? 'less' : 'more'"
            :style="{ left: `${bar.left}%`, width: `${Math.max(bar.width, 0.6)}%` }"
          ></span>
        </td>
        <td class="num">
          {{ bar.step.saves >= 0 ? '−' : '+' }}{{ say(Math.abs(bar.step.saves)) }}
        </td>
        <td class="num" :class="{ bad: !bar.step.alone_keeps }">
          {{ alone(bar.step.alone_saves)
          }}<template v-if="!bar.step.alone_keeps">, breaks the promise</template>
        </td>
      </tr>
    </tbody>
    <tfoot>
      <tr>
        <th scope="row">All changes together</th>
        <td></td>
        <td class="num">
          <b>{{ total >= 0 ? '−' : '+' }}{{ say(Math.abs(total)) }}</b>
        </td>
        <td class="num quiet">need not add up</td>
      </tr>
    </tfoot>
  </table>
</template>

<style scoped>
.steps {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 3px 8px 3px 0;
  border-bottom: 1px solid var(--hair);
  font-weight: 400;
}
thead th {
  color: var(--ink-quiet);
}
.num {
  text-align: right;
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
.path {
  position: relative;
  width: 26%;
}
.bar {
  position: absolute;
  top: 6px;
  height: 10px;
}
.less {
  background: var(--lichen);
}
.more {
  background: repeating-linear-gradient(90deg, var(--buoy) 0 5px, var(--buoy-wash) 5px 7px);
}
small {
  display: block;
}
</style>
