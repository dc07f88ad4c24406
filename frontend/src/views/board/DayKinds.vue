<script setup lang="ts">
import { computed } from 'vue'

import type { DayType, Edit, Plan } from '@/api/client'
import { nameOf } from '@/plan/called'
import { PLAN, type Lens } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import { useChecks } from '@/stores/checks'
import FieldToken from '@/ui/FieldToken.vue'
import FindingNote from '@/ui/FindingNote.vue'
import { dayName, WEEKDAY_IDS, WEEKDAYS } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

/** What each kind of day of a schedule is for, as sentences that are edited where they stand. */
const props = defineProps<{ plan: Plan; schedule: string; first: string }>()
const emit = defineEmits<{ apply: [edit: Edit] }>()

const store = usePlan()
const scheduleAt = computed(() => PLAN.at('schedules').item(props.schedule))
const schedule = computed(() => scheduleAt.value.read(props.plan))
const kinds = computed(() => scheduleAt.value.at('day_types').rows(props.plan))
const checks = useChecks()
const findings = computed(() => checks.ofSchedule(props.schedule, 'day_begins'))
/** An edit of one of the schedule's kinds of day. */
const of = (kind: DayType) => ({ schedule: props.schedule, day_type: kind.id })
function take(kind: DayType, weekday: (typeof WEEKDAY_IDS)[number], event: Event): void {
  // A weekday goes to another kind of day; it is never without one.
  ;(event.target as HTMLInputElement).checked = kind.weekdays.includes(weekday)
  if (!kind.weekdays.includes(weekday))
    emit('apply', { verb: 'give-weekday', ...of(kind), weekday })
}

function setSite(event: Event): void {
  const { value } = event.target as HTMLSelectElement
  store.set(scheduleAt.value.at('site'), value || null)
}
function addEvent(at: Lens<DayType>, event: Event): void {
  const list = event.target as HTMLSelectElement
  const { value } = list
  list.selectedIndex = 0
  if (value) store.alter(at.at('events'), (events) => events.push(value))
}
const eventsFor = (kind: DayType) =>
  props.plan.events.filter((each) => !kind.events.includes(each.id)).map((each) => each.id)
</script>

<template>
  <section v-if="schedule" aria-label="What each kind of day is for" data-testid="kinds">
    <p>
      Holidays and workdays are those of
      <select :value="schedule.site ?? ''" aria-label="Whose holidays" @change="setSite">
        <option value="">no site</option>
        <option v-for="site in plan.sites" :key="site.id" :value="site.id">{{ nameOf(site) }}</option>
      </select>
      . A date itself comes before a stretch, that before an event, a holiday, the end of a month
      and the weekday. A day begins at
      <ValueToken
        kind="clock"
        label="A day begins"
        path="schedules.day_begins"
        :model-value="schedule.day_begins"
        @update:model-value="
          (at) => emit('apply', { verb: 'begin-days', schedule: schedule?.id ?? '', at: String(at) })
        "
      />
      <template v-if="schedule.day_begins !== '00:00'">
        and lasts until then on the next: a night belongs to the day it begins on.</template
      ><template v-else>.</template>
    </p>
    <FindingNote v-for="found in findings" :key="found.check" :finding="found" />
    <PlanPart v-for="{ value: kind, key, at } in kinds" :key="key" :of="at">
      <p class="kind">
        <ValueToken
          kind="text"
          label="Name of a kind of day"
          :model-value="nameOf(kind)"
          @update:model-value="
            (name) => emit('apply', { verb: 'name-day-type', ...of(kind), name: String(name) })
          "
        />
        on
        <label v-for="(id, k) in WEEKDAY_IDS" :key="id" class="weekday">
          <input
            type="checkbox"
            :checked="kind.weekdays.includes(id)"
            :aria-label="`${WEEKDAYS[k]} is a ${nameOf(kind)}`"
            @change="take(kind, id, $event)"
          />{{ WEEKDAYS[k]?.slice(0, 3) }}</label
        ><template v-if="kind.dates.length"> and {{ kind.dates.map(dayName).join(', ') }}</template>
        <PlanPart
          v-for="range in at.at('ranges').rows(plan)"
          :key="range.key"
          :of="range.at"
        >
          , from <FieldToken field="from" label="A stretch begins" kind="text" /> to
          <FieldToken field="to" label="A stretch ends" kind="text" />
          <button
            class="link"
            :aria-label="`No stretch from ${range.value.from}`"
            @click="store.remove(range.at)"
          >
            clear
          </button>
        </PlanPart>
        <span v-for="event in kind.events" :key="event">
          , when there is <b>{{ event }}</b>
          <button
            class="link"
            :aria-label="`Not when there is ${event}`"
            @click="
              store.set(
                at.at('events'),
                kind.events.filter((each) => each !== event),
              )
            "
          >
            clear
          </button>
        </span>
        , the last <FieldToken field="month_end" label="Last workdays of a month" /> workdays of a
        month,
        <label>
          <input
            type="checkbox"
            :checked="kind.holidays"
            @change="store.set(at.at('holidays'), ($event.target as HTMLInputElement).checked)"
          />
          holidays</label
        >.
        <button class="link" @click="emit('apply', { verb: 'add-stretch', ...of(kind), first })">
          Add a stretch of dates
        </button>
        <button class="link" @click="emit('apply', { verb: 'copy-day-type', ...of(kind), new: null })">
          Copy it
        </button>
        <button
          v-if="!kind.weekdays.length"
          class="link"
          :aria-label="`Take ${nameOf(kind)} away`"
          @click="emit('apply', { verb: 'remove-day-type', ...of(kind) })"
        >
          Take it away
        </button>
        <select
          v-if="eventsFor(kind).length"
          :aria-label="`An event for ${nameOf(kind)}`"
          @change="addEvent(at, $event)"
        >
          <option value="">Add an event …</option>
          <option v-for="event in eventsFor(kind)" :key="event">{{ event }}</option>
        </select>
      </p>
    </PlanPart>
  </section>
</template>

<style scoped>
.kind {
  line-height: 1.7;
  margin-top: 4px;
}
.weekday {
  font-size: 12.5px;
  margin-right: 5px;
  white-space: nowrap;
}
select {
  font: inherit;
  font-size: 12.5px;
}
.link {
  font-size: 12.5px;
  margin: 0 4px;
}
</style>
