<script setup lang="ts">
import { computed, defineAsyncComponent, ref } from 'vue'

import type { Day, Edit, Offer, Plan, Pool } from '@/api/client'
import { nameOf } from '@/plan/called'
import type { BandPlace } from './edits'
import { bandAt, dayTypeAt, inPool, targetAt } from './edits'
import { setOwn } from '@/water/own'
import type { Lens } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { rowKey } from '@/plan/rows'
import SaidSentence from '@/sentence/SaidSentence.vue'
import { usePlan } from '@/plan/store'
import { WEEKDAYS, WEEKDAY_IDS, dayName, fullDayName } from '@/ui/format'
import { useOnce } from '@/ui/once'
import ProblemNote from '@/ui/ProblemNote.vue'
import ValueToken from '@/ui/ValueToken.vue'

import LoadRuleSentence from './LoadRuleSentence.vue'
import { useWords } from './useWords'

const TableDialog = defineAsyncComponent(() => import('./TableDialog.vue'))

/** The chosen band and what its day has ready by when, as sentences edited where they stand. */
const props = defineProps<{
  plan: Plan
  pool: Pool
  place: BandPlace
  day: Day
  /** Other pools with the schedule, and whether what is changed is for this one alone. */
  sharedWith: readonly string[]
  alone: boolean
  /** Whether a problem is shown above the sentence, whose own is then most often the same. */
  problemAbove: boolean
}>()
const emit = defineEmits<{ apply: [edit: Edit]; alone: [value: boolean] }>()

const store = usePlan()
const table = ref(false)
const tableOnce = useOnce(() => table.value)
const told = useWords(() => (store.settled ? { plan: store.settled, pool: props.pool.id } : null))
/** Where the chosen band stands in the plan that the words are about. */
const placeThen = computed(() => {
  const then = told.wish.value?.plan.schedules.find((each) => each.id === props.place.schedule)
  const keys = (rows: readonly object[] = []) => rows.map((row) => rowKey(row))
  const kind = keys(then?.day_types).indexOf(props.place.dayType)
  const found = then?.day_types[kind]
  return {
    dayType: kind,
    band: keys(found?.bands).indexOf(props.place.band),
    targets: keys(found?.ready_by),
  }
})
const said = computed(() => told.answer.value?.day_types[placeThen.value.dayType])
const bandSaid = computed(() => said.value?.bands[placeThen.value.band])

const whose = computed(() => ({ pool: props.pool.id, alone: props.alone }))
const mine = computed(() => inPool(bandAt(props.place), whose.value))
const band = computed(() => mine.value.read(props.plan))
const dayType = computed(() => dayTypeAt(props.place).read(props.plan))
const schedule = computed(() => props.plan.schedules.find((s) => s.id === props.place.schedule))
const sites = computed(() => props.plan.sites.map((site) => site.id))
/** Each target with its sentence, which may be about one that has just gone. */
const targets = computed(() =>
  dayTypeAt(props.place)
    .at('ready_by')
    .rows(props.plan)
    .flatMap(({ key }) => {
      const sentence = said.value?.ready_by[placeThen.value.targets.indexOf(key)]
      const shared = targetAt(props.place, key)
      const at = inPool(shared, whose.value)
      const target = at.read(props.plan)
      return sentence && target ? [{ target, key, at, shared, said: sentence }] : []
    }),
)
/** The load rules that are at work in the band. */
const rules = computed(() =>
  (schedule.value?.load_rules ?? []).flatMap((rule) => {
    const sentence = told.answer.value?.load_rules.find((each) => each.id === rule.id)
    return sentence && band.value?.load_rules.includes(rule.id) ? [{ rule, said: sentence }] : []
  }),
)
const days = computed(() =>
  [
    ...WEEKDAY_IDS.flatMap((id, k) => (dayType.value?.weekdays.includes(id) ? [WEEKDAYS[k]] : [])),
    ...(dayType.value?.dates ?? []).map(dayName),
  ].join(', '),
)
const own = computed(() => dayType.value?.dates.includes(props.day.date) ?? false)

type Shared = Parameters<typeof setOwn>[0]
function set<T extends Shared>(shared: Lens<T>, values: Record<string, unknown>): void {
  store.alter(shared, (thing) => setOwn(thing, whose.value, values))
}
const named = () => ({ schedule: props.place.schedule, day_type: dayType.value?.id ?? '' })
function begin(to: string): void {
  if (band.value) emit('apply', { verb: 'move-band', ...named(), band: band.value.from, to })
}

function addRule(from: string): void {
  emit('apply', { verb: 'add-load-rule', ...named(), band: from, signal: 'cpu' })
}

/** What could be added for whom it is to be: one pool alone cannot have everything. */
function mayBe(offers: readonly Offer[] = []): Offer[] {
  return offers.filter((each) => each.may_be_own || !props.alone)
}
/** Rules that could be added: to the band, to a target, or a target more. */
const offers = computed(() => [
  ...mayBe(bandSaid.value?.offers).map((offer) => ({
    text: offer.text,
    add: () => set(bandAt(props.place), offer.values),
  })),
  ...(props.alone
    ? []
    : [
        {
          text: 'hosts ready by a time',
          add: () => emit('apply', { verb: 'add-target', ...named() }),
        },
      ]),
  ...(props.alone || props.pool.kind === 'dedicated' || !band.value
    ? []
    : [{ text: 'a load rule', add: () => addRule(band.value?.from ?? '00:00') }]),
  ...targets.value.flatMap(({ target, shared, said: sentence }) =>
    mayBe(sentence.offers).map((offer) => ({
      text: `ready by ${target.at}: ${offer.text}`,
      add: () => set(shared, offer.values),
    })),
  ),
])
function add(event: Event): void {
  const list = event.target as HTMLSelectElement
  offers.value[list.selectedIndex - 1]?.add()
  list.selectedIndex = 0
}
</script>

<template>
  <div v-if="band && dayType" class="sentence" data-testid="sentence">
    <p>
      <template v-if="own">
        On <b :title="days">{{ fullDayName(day.date) }}</b>
      </template>
      <template v-else>
        On a <b :title="days">{{ nameOf(dayType) }}</b>
      </template>
      from
      <ValueToken
        v-if="placeThen.band > 0 && !alone"
        kind="clock"
        label="Band begins"
        :model-value="band.from"
        @update:model-value="(v) => begin(String(v))"
      />
      <b v-else>{{ band.from }}</b>
      {{ ' ' }}
      <PlanPart v-if="bandSaid" :of="mine">
        <SaidSentence
          :said="bandSaid"
          :sites="sites"
          :alone="alone"
          @set="(values) => set(bandAt(place), values)"
        />
      </PlanPart>
      <span class="quiet days">
        Changes {{ days
        }}<template v-if="sharedWith.length">
          in
          <select
            class="whose"
            aria-label="Whose rules are changed"
            :title="`Also with this schedule: ${sharedWith.join(', ')}`"
            :value="alone ? 'alone' : 'all'"
            @change="emit('alone', ($event.target as HTMLSelectElement).value === 'alone')"
          >
            <option value="all">all {{ sharedWith.length + 1 }} pools with this schedule</option>
            <option value="alone">{{ nameOf(pool) }} alone</option>
          </select></template
        >.
        <button
          v-if="alone"
          class="plain gone"
          @click="emit('apply', { verb: 'own-schedule', pool: pool.id })"
        >
          give it a schedule of its own
        </button>
      </span>
      <button v-if="bandSaid" class="plain gone" data-testid="as-table" @click="table = true">
        as a table
      </button>
      <select v-if="bandSaid" class="add" aria-label="Add a rule" @change="add">
        <option>Add a rule …</option>
        <option v-for="offer in offers" :key="offer.text">{{ offer.text }}</option>
      </select>
    </p>
    <TableDialog
      v-if="told.answer.value && tableOnce"
      :open="table"
      :plan="plan"
      :schedule="pool.schedule"
      :table="told.answer.value.table"
      :place="placeThen"
      @close="table = false"
    />
    <p v-for="{ target, key, at, shared, said: sentence } in targets" :key="key" data-testid="target">
      <PlanPart :of="at">
        <SaidSentence
          :said="sentence"
          :sites="sites"
          :alone="alone"
          @set="(values) => set(shared, values)"
        />
      </PlanPart>
      <button
        class="plain gone"
        :aria-label="`Nothing ready by ${target.at}`"
        @click="emit('apply', { verb: 'remove-target', ...named(), at: target.at })"
      >
        remove
      </button>
    </p>
    <LoadRuleSentence
      v-for="{ rule, said: sentence } in rules"
      :key="rule.id"
      :rule="rule"
      :said="sentence"
      :schedule="place.schedule"
      :sites="sites"
      @apply="emit('apply', $event)"
    />
    <p v-for="line in told.answer.value?.limits" :key="line" class="quiet days" data-testid="limits">
      {{ line }}
    </p>
    <ProblemNote v-if="told.problem.value && !problemAbove" :problem="told.problem.value" />
  </div>
</template>

<style scoped>
.sentence {
  font-size: 15.5px;
  line-height: 1.75;
  max-width: 112ch;
}
.days {
  font-size: 12.5px;
}
.gone {
  color: var(--ink-quiet);
  padding: 0 4px;
  font-size: 12px;
}
.gone:hover {
  color: var(--ink);
}
.add {
  font: inherit;
  font-size: 12.5px;
  color: var(--ink-quiet);
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hair-strong);
  border-radius: 0;
  padding: 0;
  width: 13ch;
  cursor: pointer;
}
.add:hover {
  color: var(--ink);
}
.whose {
  font: inherit;
  color: inherit;
  background: none;
  border: 0;
  border-bottom: 1px solid var(--hair-strong);
  padding: 0;
}
option {
  background: var(--paper-raised);
  color: var(--ink);
}
</style>
