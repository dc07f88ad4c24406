<script setup lang="ts">
import { computed, ref } from 'vue'

import { linesIn, linesTo } from './front'
import { called } from '@/plan/called'
import { count, money } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'
import ProgressNote from '@/ui/ProgressNote.vue'
import ValueToken from '@/ui/ValueToken.vue'

import { useTogether } from './useTogether'

/** All pools under one budget or one promise: what each gets, what a little more or less would do. */
const props = defineProps<{ free: string; weeks: number; width: number }>()
const all = useTogether()
const { weighed, budget, kept, numbers } = all
defineExpose({ ask: () => all.ask(props.free, props.weeks), busy: all.asking, goesOn: all.goesOn })

const sayMoney = (value: number) => money(value, weighed.value?.currency ?? 'EUR')
const sayHours = (value: number) => `${count(value, value && value < 10 ? 1 : 0)} h`
const HEIGHT = 250
const EDGE = { left: 64, right: 120, top: 12, bottom: 38 }
const wide = computed(() => Math.max(props.width - EDGE.left - EDGE.right, 160))
const tall = HEIGHT - EDGE.top - EDGE.bottom
const marks = computed(() => {
  const told = weighed.value
  if (!told) return []
  return [
    { name: 'today', at: told.today },
    ...(told.chosen ? [{ name: 'this choice', at: told.chosen }] : []),
  ]
})
const span = computed(() => {
  const told = weighed.value
  // The picture begins where the choice is: with the cheapest plans that keep their promises.
  const choice = [...(told?.kept_curve ?? []), ...(told?.chosen ? [told.chosen] : [])]
  const points = (choice.length > 1 ? choice : (told?.curve ?? [])).map((p) => p.money)
  const most = Math.max(...points, 1)
  const least = Math.min(...points, most)
  const room = Math.max(most - least, most * 0.02) * 0.06
  // Far to the left nobody is served: hours there would flatten all else.
  const kept = (told?.kept_curve ?? []).map((p) => p.spoiled)
  const hours = Math.max(...kept, ...marks.value.map((m) => m.at.spoiled), 1) * 1.25
  return { least: Math.max(least - room, 0), most: most + room, hours }
})
const shown = (value: number) => value >= span.value.least && value <= span.value.most
const x = (value: number) => {
  const { least, most } = span.value
  return EDGE.left + Math.min(Math.max((value - least) / (most - least), 0), 1) * wide.value
}
/** Few hours are seen beside many: heights go with the square root. */
const y = (value: number) =>
  EDGE.top + tall - Math.sqrt(Math.min(value, span.value.hours) / span.value.hours) * tall
const hourTicks = computed(() => {
  const lines = linesTo(span.value.hours, 4)
  return [0, (lines[1] ?? span.value.hours) / 4, ...lines.slice(1)]
})
const path = (points: readonly { money: number; spoiled: number }[]) =>
  points
    .filter((p) => p.spoiled <= span.value.hours && shown(p.money))
    .map((p, k) => (k ? `H${x(p.money)}V${y(p.spoiled)}` : `M${x(p.money)} ${y(p.spoiled)}`))
    .join('')
const moneyTicks = computed(() => linesIn([span.value.least, span.value.most], 6))
const rows = computed(() => {
  const told = weighed.value
  if (!told) return []
  return told.pools.map((pool, k) => {
    const place = told.chosen?.places[k] ?? 0
    const now = pool.options[0]
    const then = pool.options[place]
    return { pool: pool.pool, now, then, same: place === 0 }
  })
})
const taken = ref('')
async function takeOver(): Promise<void> {
  const chosen = weighed.value?.chosen
  if (chosen && (await all.takeOver(chosen.places))) taken.value = chosen.places.join()
}
</script>

<template>
  <div class="together" data-testid="together">
    <ProblemNote v-if="all.problem.value" :problem="all.problem.value" />
    <ProgressNote
      v-if="all.goesOn.value"
      :progress="{ done: all.done.value, of: numbers.length }"
      what="pools are searched"
      @stop="all.stop"
    />
    <p v-else-if="!numbers.length" class="quiet">
      Every pool is searched by itself; then the pools are weighed against each other, by money and
      by hours of work that are waited away, strained or slow.
    </p>
    <template v-if="weighed">
      <p class="question">
        For at most
        <ValueToken
          label="Money a month"
          kind="number"
          :unit="weighed.currency"
          :model-value="Math.round(budget ?? weighed.chosen?.money ?? weighed.today.money)"
          @update:model-value="(v) => (budget = Math.max(Number(v), 0))"
        />
        a month
        <label>
          <input v-model="kept" type="checkbox" data-testid="keep-all" />
          with every promise kept
        </label>
        <button class="link" :disabled="budget === null" @click="budget = null">
          as cheap as that goes
        </button>
      </p>
      <p
        v-if="weighed.chosen"
        class="verdict"
        :class="{ unsure: !weighed.chosen.keeps }"
        data-testid="together-verdict"
      >
        <b>
          {{ sayMoney(weighed.chosen.money) }} a month for all pools instead of
          {{ sayMoney(weighed.today.money) }}, {{ sayHours(weighed.chosen.spoiled) }} of work
          spoiled instead of {{ sayHours(weighed.today.spoiled) }}.
        </b>
        {{ weighed.chosen.keeps ? '' : 'Not every promise is kept for sure.' }}
      </p>
      <p v-else role="status">
        Keeping every promise costs {{ sayMoney(weighed.least ?? 0) }} a month at least.
      </p>
      <p v-if="weighed.unkept.length" class="quiet">
        Nothing was found that keeps the promise of {{ weighed.unkept.map((id) => called('pools', id)).join(', ') }}: it
        is weighed with what comes nearest.
      </p>
      <svg
        :width="width"
        :height="HEIGHT"
        role="img"
        aria-label="Hours of work spoiled against money"
      >
        <g class="axes">
          <template v-for="value in moneyTicks" :key="value">
            <line :x1="x(value)" :x2="x(value)" :y1="EDGE.top" :y2="EDGE.top + tall" />
            <text :x="x(value)" :y="HEIGHT - EDGE.bottom + 16" text-anchor="middle">
              {{ sayMoney(value) }}
            </text>
          </template>
          <text
            v-for="value in hourTicks"
            :key="`y${value}`"
            :x="EDGE.left - 6"
            :y="y(value) + 4"
            text-anchor="end"
          >
            {{ sayHours(value) }}
          </text>
          <text :x="EDGE.left + wide / 2" :y="HEIGHT - 6" text-anchor="middle">
            money a month; upwards: hours of work spoiled
          </text>
        </g>
        <path class="any" :d="path(weighed.curve)" />
        <path class="kept" :d="path(weighed.kept_curve)" />
        <g v-for="mark in marks" :key="mark.name" :class="mark.name.replace(' ', '-')">
          <circle :cx="x(mark.at.money)" :cy="y(mark.at.spoiled)" r="6" />
          <text :x="x(mark.at.money) + 10" :y="y(mark.at.spoiled) - 8">
            {{ mark.name
            }}<template v-if="!shown(mark.at.money)">&nbsp;{{ sayMoney(mark.at.money) }}</template>
          </text>
        </g>
      </svg>
      <p class="quiet">
        Solid: every promise kept{{ weighed.unkept.length ? ' that can be' : '' }}. Dotted: whatever
        breaks. Each step is another plan for a pool.
      </p>
      <table class="lines">
        <thead>
          <tr>
            <th scope="col">Pool</th>
            <th scope="col" class="num">today</th>
            <th scope="col" class="num">then</th>
            <th scope="col" class="num">spoiled today</th>
            <th scope="col" class="num">then</th>
            <th scope="col">promise</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in rows" :key="row.pool">
            <th scope="row">{{ called('pools', row.pool) }}</th>
            <td class="num">{{ row.now ? sayMoney(row.now.money) : '' }}</td>
            <td class="num">
              {{ row.same ? 'as it is' : row.then ? sayMoney(row.then.money) : '' }}
            </td>
            <td class="num">{{ row.now ? sayHours(row.now.spoiled) : '' }}</td>
            <td class="num">{{ row.then ? sayHours(row.then.spoiled) : '' }}</td>
            <td :class="row.then?.keeps ? 'good' : 'risk'">
              {{ row.then?.keeps ? '✓ kept' : '? not for sure' }}
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="weighed.chosen">
        <button class="primary" data-testid="take-all" @click="takeOver">Take it over</button>
        <span v-if="taken === weighed.chosen.places.join()" role="status">
          It is in the plan; undo takes it back.
        </span>
      </p>
      <dl>
        <dt>How to spend the next {{ sayMoney(weighed.more.amount) }}</dt>
        <dd data-testid="more-money">{{ weighed.more.text }}</dd>
        <dt>How to save {{ sayMoney(weighed.less.amount) }} with the least pain</dt>
        <dd data-testid="spare-money">{{ weighed.less.text }}</dd>
      </dl>
    </template>
  </div>
</template>

<style scoped>
.together {
  display: flex;
  flex-direction: column;
  gap: 8px;
  font-size: 13px;
}
.question label {
  margin: 0 10px;
}
svg {
  display: block;
  font-size: 12px;
}
.axes line {
  stroke: var(--hair);
}
.axes text {
  fill: var(--ink-quiet);
  font-variant-numeric: tabular-nums;
}
path {
  fill: none;
}
.any {
  stroke: var(--brass-line);
  stroke-dasharray: 2 3;
}
.kept {
  stroke: var(--lichen);
  stroke-width: 2;
}
.today circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
}
.this-choice circle {
  fill: var(--lichen);
  stroke: var(--ink);
  stroke-width: 2;
}
dt {
  font-weight: 650;
}
dd {
  margin: 0 0 6px;
}
</style>
