<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Figures, Interval, RangeAnswer, Verdicts, WeekAnswer } from '@/api/client'
import type { Progress } from '@/ask/question'
import HourBar from './HourBar.vue'
import PromiseGauge from './PromiseGauge.vue'
import { MANY } from '@/water/weeks'
import { count, duration, halfOf, meanOf, money, share } from '@/ui/format'
import { PARTS, sayPart } from '@/ui/promise'

/** What the schedule does to people and money; every number opens its reasons. */
const props = defineProps<{
  week: WeekAnswer
  range: RangeAnswer | null
  baseline: WeekAnswer | null
  baselineRange: RangeAnswer | null
  /** What figures are compared with. */
  beside: string
  /** How many of many weeks are simulated, while they are. */
  many: Progress | null
  /** What the month leaves out for want of a price. */
  unpriced: readonly string[]
}>()
const emit = defineEmits<{ waiters: []; many: []; stop: [] }>()

const open = ref('')
const toggle = (topic: string) => (open.value = open.value === topic ? '' : topic)

interface Answer {
  figures: Figures
  verdicts: Verdicts
}
const shown = computed<Answer>(() => props.range ?? props.week)
const figures = computed(() => shown.value.figures)
const verdicts = computed(() => shown.value.verdicts)
/** Compare like with like: ranges with ranges, one week with one week. */
const before = computed<Answer | null>(() => {
  if (!props.baseline) return null
  return props.range && props.baselineRange ? props.baselineRange : props.baseline
})
const now = computed<Answer>(() => (props.range && props.baselineRange ? props.range : props.week))

/** What a figure is further than in the pinned revision; money has no promise that tells more. */
function changeOf(pick: (a: Answer) => Interval, say: (v: number) => string, lessIsBetter = true) {
  if (!before.value) return { change: '', better: null }
  const a = pick(before.value).mean
  const b = pick(now.value).mean
  if (a === null || b === null) return { change: '', better: null }
  const difference = b - a
  const text = say(Math.abs(difference))
  if (text === say(0)) return { change: `as in ${props.beside}`, better: null }
  return {
    change: `${difference < 0 ? '▼' : '▲'} ${text} on ${props.beside}`,
    better: difference < 0 === lessIsBetter,
  }
}

/** An optional part is left out where nobody can feel it. */
const felt = computed(() =>
  PARTS.filter((part) => {
    const { figure } = verdicts.value[part.field]
    return !part.optional || figure.mean !== null || !!figure.unbounded
  }),
)
const gauges = computed(() =>
  felt.value.map((part) => {
    const say = sayPart(part)
    const { figure, limit, standing, less_is_better } = verdicts.value[part.field]
    // The scale of comfort goes by what is lacking: there, too, less is better.
    const onScale = (value: number) => (part.least ? 1 - value : value)
    const half = halfOf(figure)
    return {
      part,
      value: figure.mean === null ? null : onScale(figure.mean),
      unbounded: !!figure.unbounded,
      name: part.title,
      text: meanOf(figure, say, part.nobody),
      limit: limit === null ? null : onScale(limit),
      limitText: limit === null ? '' : say(limit),
      least: part.least,
      standing,
      half: half ? say(half) : '',
      ...changeOf((a) => a.verdicts[part.field].figure, say, less_is_better),
    }
  }),
)
const cost = computed(() => figures.value.cost)
const costChange = computed(() =>
  changeOf(
    (a) => a.figures.cost.interval,
    (v) => money(v, props.week.currency),
  ),
)
const costHalf = computed(() => halfOf(cost.value.interval))
</script>

<template>
  <aside class="column" aria-label="Consequences">
    <p class="basis" data-testid="basis">
      <span v-if="range && many" role="status">
        Means of {{ range.figures.seeds }} of {{ count(MANY) }} simulated weeks, ± 95 %
      </span>
      <template v-else-if="range">
        Means of {{ range.figures.seeds }} simulated weeks, ± 95 %
      </template>
      <template v-else>One simulated week</template>
      <button v-if="many" class="link" @click="emit('stop')">Stop</button>
      <button
        v-else-if="range && range.figures.seeds < MANY"
        class="link"
        data-testid="many"
        @click="emit('many')"
      >
        Simulate {{ count(MANY) }}
      </button>
    </p>
    <section aria-label="Promise" data-testid="promise">
      <h3>The promise</h3>
      <template v-for="{ part, ...gauge } in gauges" :key="part.field">
        <PromiseGauge
          v-bind="gauge"
          :open="open === part.field"
          :data-testid="`gauge-${part.short}`"
          @why="toggle(part.field)"
        />
        <div v-if="open === part.field" class="why" data-testid="why">
          <template v-if="part.field === 'strained_share'">
            <p>
              Work is strained on hosts whose CPU or memory is beyond the load limit; in the lanes
              they are underlined in red. A lower session limit or a larger host size mends it.
            </p>
            <p v-if="figures.baseline_hours.mean" data-testid="baseline">
              Hosts had spent their credits for
              <b>{{ count(figures.baseline_hours.mean, 1) }}</b> hours of the week, and had their
              baseline alone.
            </p>
            <p v-if="figures.behind_share.mean" data-testid="behind">
              <b>{{ share(figures.behind_share.mean) }}</b> of working time is behind a line slower
              than promised, beside what is strained.
            </p>
          </template>
          <template v-else-if="part.field === 'lost_returns'">
            <p>
              Of the {{ meanOf(figures.returns.all, (n) => count(n)) }} times that somebody came
              back on the same working day without having signed off, their session was gone
              {{ meanOf(figures.returns.lost, (n) => count(n)) }} times.
            </p>
            <p v-for="loss in verdicts.losses" :key="loss.cause">
              <b>{{ count(loss.people, loss.people < 10 ? 1 : 0) }}</b> because {{ loss.text }}
              <span class="quiet">— {{ loss.mend }}</span>
            </p>
          </template>
          <p v-else-if="part.field === 'forced_share'">
            {{ meanOf(figures.forced, (n) => count(n, n < 10 ? 1 : 0)) }} sessions were signed off
            by force: bands that drain with notice do so once the notice is over.
          </p>
          <p v-else-if="part.field === 'comfort'">
            The share of working time that was neither waited away nor strained nor behind a slow
            line; the bar is as long as what is lacking. Who is refused has waited the whole time.
          </p>
          <template v-else-if="part.field === 'wait_p95_seconds' || part.field === 'refused_share'">
            <p v-if="part.field === 'wait_p95_seconds'">
              Mean {{ meanOf(figures.wait_seconds.mean, duration) }} over
              {{ meanOf(figures.connected, (n) => count(n)) }} logons;
              {{ meanOf(figures.reconnects, (n) => count(n)) }} returns to a session are counted
              apart.
            </p>
            <p v-else>
              {{ meanOf(figures.refused, (n) => count(n, 1)) }} of
              {{ meanOf(figures.arrivals, (n) => count(n)) }} logons.
            </p>
            <p v-for="reason in week.reasons" :key="reason.cause">
              <b>{{ count(reason.people) }}</b> because {{ reason.text }}
              <span class="quiet">— {{ reason.mend }}</span>
            </p>
            <p v-if="!week.reasons.length">Nobody had to wait longer than a logon takes.</p>
            <button v-else class="link" @click="emit('waiters')">Who waited on this day</button>
          </template>
          <p v-else>{{ part.meaning }}</p>
        </div>
      </template>
      <p v-if="figures.first.mean.mean !== null" class="foot" data-testid="first">
        Who comes first after an hour without anybody waits
        {{ duration(figures.first.mean.mean) }}, at most
        {{ meanOf(figures.first.longest, duration) }}
        ({{ meanOf(figures.first.people, (n) => count(n)) }} people a week).
      </p>
    </section>
    <section aria-label="Money" data-testid="money">
      <h3>The month</h3>
      <button class="plain total" aria-label="Show the cost lines" @click="toggle('money')">
        <span class="sum" data-testid="month">{{ money(cost.month, week.currency) }}</span>
        <span class="quiet">
          <template v-if="costHalf">± {{ money(costHalf, week.currency) }}</template>
        </span>
      </button>
      <p class="foot">
        <span v-if="verdicts.cost_per_person">
          {{ money(verdicts.cost_per_person, week.currency, 2) }} per person
        </span>
        <span :class="costChange.better === null ? '' : costChange.better ? 'good' : 'bad'">
          {{ costChange.change }}
        </span>
      </p>
      <p v-if="unpriced.length" class="foot" data-testid="unpriced">
        Without {{ unpriced.join(' and ') }}: nobody has given their price.
      </p>
      <table v-if="open === 'money'" class="why" data-testid="ledger">
        <tbody>
          <tr v-for="line in cost.lines" :key="line.id">
            <th scope="row">
              {{ line.id }}: <span class="quiet">{{ line.meaning }}</span><br />
              <span class="quiet">
                {{ count(line.quantity, 1) }} {{ line.unit }} × {{ line.unit_price }} ({{
                  line.price_source
                }})
              </span>
            </th>
            <td>{{ money(line.amount, week.currency, 2) }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <section aria-label="Host-hours">
      <h3>Where the host-hours went</h3>
      <HourBar
        :figures="figures"
        :efficiency="verdicts.efficiency"
        :withheld="verdicts.efficiency_withheld"
      />
    </section>
    <slot />
  </aside>
</template>

<style scoped>
.column {
  border-left: 1px solid var(--hair-strong);
  padding: 8px 16px 12px;
  overflow-y: auto;
  min-height: 0;
}
.basis {
  font-size: 12px;
  color: var(--ink-quiet);
}
h3 {
  font-size: 13px;
  font-weight: 650;
  margin: 10px 0 2px;
  padding-bottom: 2px;
  border-bottom: 1px solid var(--hair-strong);
}
.why {
  font-size: 12.5px;
  background: var(--paper-raised);
  border-left: 3px solid var(--brass-line);
  padding: 4px 8px;
  margin: 2px 0 6px;
  width: 100%;
}
.why p + p {
  margin-top: 4px;
}
.total {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  width: 100%;
}
.sum {
  font-size: 24px;
  font-weight: 650;
}
.foot {
  display: flex;
  justify-content: space-between;
  font-size: 12.5px;
}
th {
  text-align: left;
  font-weight: 400;
}
td {
  text-align: right;
  vertical-align: top;
  white-space: nowrap;
}
</style>
