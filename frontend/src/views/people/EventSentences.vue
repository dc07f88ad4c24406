<script setup lang="ts">
import { shallowRef } from 'vue'

import type { Plan, PlanEvent, Problem } from '@/api/client'
import { withMore } from '@/api/complete'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import DateToken from '@/ui/DateToken.vue'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'
import { freeId } from '@/ui/ids'
import ProblemNote from '@/ui/ProblemNote.vue'
import ValueToken from '@/ui/ValueToken.vue'
import { daysLater, useWeek } from '@/views/frame/useWeek'

/** Days that differ: what happens to whom, and when. */
const props = defineProps<{ plan: Plan }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()
const { first, go } = useWeek()
const store = usePlan()
const problem = shallowRef<Problem | null>(null)

const WHEN = [
  { value: 'dates', text: 'from' },
  { value: 'month-workdays', text: 'every month from workday' },
]
const editEvent = (index: number) => (change: (event: PlanEvent) => void) =>
  emit('edit', (plan) => {
    const event = plan.events[index]
    if (event) change(event as PlanEvent)
  })
function rename(index: number, name: string): void {
  const taken = props.plan.events.filter((_, k) => k !== index).map((each) => each.id)
  editEvent(index)((event) => (event.id = freeId(name, taken)))
}
function setWhen(index: number, kind: string): void {
  editEvent(index)((event) => {
    event.when = (
      kind === 'dates'
        ? { kind, from: first.value, to: daysLater(first.value, 4) }
        : { kind, from: 1, to: 4 }
    ) as PlanEvent['when']
  })
}
function toggle(index: number, group: string): void {
  editEvent(index)((event) => {
    event.groups = event.groups.includes(group)
      ? event.groups.filter((name) => name !== group)
      : [...event.groups, group]
  })
}
/** Patterns that every group of the event has. */
function patterns(event: PlanEvent) {
  const concerned = props.plan.groups.filter(
    (g) => event.groups.length === 0 || event.groups.includes(g.id),
  )
  const lists = concerned.map((g) =>
    g.demand.kind === 'headcount' ? g.demand.patterns.map((p) => p.id) : [],
  )
  const shared = event.groups.length
    ? (lists[0] ?? []).filter((id) => lists.every((list) => list.includes(id)))
    : [...new Set(lists.flat())]
  return [
    { value: '', text: 'own patterns' },
    ...shared.map((id) => ({ value: id, text: words(id).toLowerCase() })),
  ]
}
async function add(): Promise<void> {
  const when = { kind: 'dates', from: first.value, to: daysLater(first.value, 4) }
  const found = await store.change((plan) => {
    const known = plan.events.map((each) => each.id)
    const event = { id: freeId('event', known), when, factor: 1.2 }
    return withMore(plan, { events: [...plan.events, event] })
  })
  problem.value = found.problem
}
</script>

<template>
  <section data-testid="events">
    <h2>Days that differ</h2>
    <ProblemNote v-if="problem" :problem="problem" />
    <FieldScope
      v-for="(event, index) in plan.events"
      :key="index"
      :of="event"
      path="events"
      :edit="editEvent(index)"
    >
      <div class="event" data-testid="event">
        <ValueToken
          kind="text"
          label="Name of the event"
          :model-value="event.id"
          @update:model-value="(v) => rename(index, String(v))"
        />,
        <ChoiceToken
          label="When"
          :options="WHEN"
          :model-value="event.when.kind"
          @update:model-value="(v) => setWhen(index, v)"
        />
        {{ ' ' }}
        <template v-if="event.when.kind === 'dates'">
          <template v-for="side in ['from', 'to'] as const" :key="side"
            >{{ side === 'to' ? ' to ' : ''
            }}<DateToken
              :label="side === 'from' ? 'First day' : 'Last day'"
              :model-value="String(event.when[side])"
              @update:model-value="
                (v) => editEvent(index)((x) => Object.assign(x.when, { [side]: v }))
              "
          /></template>
          (<button class="link" @click="go(String(event.when.from))">show</button>)
        </template>
        <template v-else>
          <FieldToken field="when.from" label="First workday" /> to
          <FieldToken field="when.to" label="Last workday" />
        </template>
        for
        <details class="who">
          <summary>
            {{ event.groups.length ? event.groups.map(words).join(', ') : 'everyone' }}
          </summary>
          <label v-for="group in plan.groups" :key="group.id">
            <input
              type="checkbox"
              :checked="event.groups.includes(group.id)"
              @change="toggle(index, group.id)"
            />
            {{ words(group.id) }}
          </label>
        </details>
        : demand is <FieldToken field="factor" label="Times as much" unit="×" />, everything
        <FieldToken field="shift_minutes" label="Minutes later" unit="min later" />, on
        <ChoiceToken
          label="Pattern on these days"
          path="events.pattern"
          :options="patterns(event)"
          :model-value="event.pattern ?? ''"
          @update:model-value="(v) => editEvent(index)((e) => (e.pattern = (v || null) as never))"
        />.
        <button class="link" @click="emit('edit', (p) => p.events.splice(index, 1))">Remove</button>
      </div>
    </FieldScope>
    <p v-if="plan.events.length === 0" class="quiet">Every week is like any other.</p>
    <button class="link" data-testid="add-event" @click="add">Add days that differ</button>
  </section>
</template>

<style scoped>
section {
  padding: 6px 16px;
  border-top: 1px solid var(--hair-strong);
  margin-top: 6px;
}
h2 {
  font-size: 14px;
  font-weight: 650;
}
.who {
  display: inline-block;
  vertical-align: top;
}
.who summary {
  cursor: pointer;
  font-weight: 650;
  text-decoration: underline;
  text-decoration-color: var(--brass-line);
  list-style: none;
}
.who label {
  display: block;
}
</style>
