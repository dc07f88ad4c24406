<script setup lang="ts">
import { computed } from 'vue'

import type { DayType, Plan } from '@/api/client'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { dayName, WEEKDAY_IDS, WEEKDAYS, words } from '@/ui/format'
import { daysLater } from '@/views/frame/useWeek'

/** What each kind of day of a schedule is for, as sentences that are edited where they stand. */
const props = defineProps<{ plan: Plan; schedule: string; first: string }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

const schedule = computed(() => props.plan.schedules.find((each) => each.id === props.schedule))
/** Its weekdays and dates. */
function daysOf(kind: DayType): string {
  const weekdays = WEEKDAY_IDS.flatMap((id, k) => (kind.weekdays.includes(id) ? [WEEKDAYS[k]] : []))
  const days = weekdays.length ? `on ${weekdays.join(', ')}` : 'on no weekday'
  return kind.dates.length ? `${days} and ${kind.dates.map(dayName).join(', ')}` : days
}

function change(id: string, edit: (kind: DayType) => void): void {
  emit('edit', (plan) => {
    const found = plan.schedules.find((each) => each.id === props.schedule)
    const kind = found?.day_types.find((each) => each.id === id)
    if (kind) edit(kind as DayType)
  })
}
function setSite(event: Event): void {
  const { value } = event.target as HTMLSelectElement
  emit('edit', (plan) => {
    const found = plan.schedules.find((each) => each.id === props.schedule)
    if (found) found.site = value || null
  })
}
function addRange(kind: DayType): void {
  // A week that no stretch of this kind begins in.
  let from = props.first
  while (kind.ranges.some((each) => each.from <= daysLater(from, 6) && each.to >= from))
    from = daysLater(from, 7)
  const to = daysLater(from, 6)
  change(kind.id, (found) => found.ranges.push({ from, to }))
}
function addEvent(kind: DayType, event: Event): void {
  const list = event.target as HTMLSelectElement
  const { value } = list
  list.selectedIndex = 0
  if (value) change(kind.id, (found) => found.events.push(value))
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
        <option v-for="site in plan.sites" :key="site.id">{{ site.id }}</option>
      </select>
      . A date itself comes before a stretch, that before an event, a holiday, the end of a month
      and the weekday.
    </p>
    <FieldScope
      v-for="kind in schedule.day_types"
      :key="kind.id"
      :of="kind"
      path="schedules.day_types"
      :edit="(edit) => change(kind.id, edit as (kind: DayType) => void)"
    >
      <p class="kind">
        <b>{{ words(kind.id) }}</b>
        {{ daysOf(kind) }}
        <span v-for="(range, k) in kind.ranges" :key="k">
          , from
          <FieldToken :field="`ranges.${k}.from`" label="A stretch begins" kind="text" /> to
          <FieldToken :field="`ranges.${k}.to`" label="A stretch ends" kind="text" />
          <button
            class="link"
            :aria-label="`No stretch from ${range.from}`"
            @click="change(kind.id, (found) => found.ranges.splice(k, 1))"
          >
            clear
          </button>
        </span>
        <span v-for="event in kind.events" :key="event">
          , when there is <b>{{ event }}</b>
          <button
            class="link"
            :aria-label="`Not when there is ${event}`"
            @click="
              change(kind.id, (found) => {
                found.events = found.events.filter((each) => each !== event)
              })
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
            @change="
              change(kind.id, (found) => {
                found.holidays = ($event.target as HTMLInputElement).checked
              })
            "
          />
          holidays</label
        >.
        <button class="link" @click="addRange(kind)">Add a stretch of dates</button>
        <select
          v-if="eventsFor(kind).length"
          :aria-label="`An event for ${words(kind.id)}`"
          @change="addEvent(kind, $event)"
        >
          <option value="">Add an event …</option>
          <option v-for="event in eventsFor(kind)" :key="event">{{ event }}</option>
        </select>
      </p>
    </FieldScope>
  </section>
</template>

<style scoped>
.kind {
  line-height: 1.7;
  margin-top: 4px;
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
