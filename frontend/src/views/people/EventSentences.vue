<script setup lang="ts">
import { computed } from 'vue'

import type { Plan, PlanEvent } from '@/api/client'
import { called, nameOf } from '@/plan/called'
import { useFacts } from '@/plan/facts'
import { PLAN, type Lens } from '@/plan/lens'
import NameToken from '@/plan/NameToken.vue'
import PartActs from '@/plan/PartActs.vue'
import { addPart } from '@/plan/parts'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'
import { useWeek } from '@/views/frame/useWeek'

/** Days that differ: what happens to whom, and when. */
const props = defineProps<{ plan: Plan }>()
const { first, go } = useWeek()
const store = usePlan()
const facts = useFacts()
const events = computed(() => PLAN.at('events').rows(props.plan))

const WHEN = [
  { value: 'dates', text: 'from' },
  { value: 'month-workdays', text: 'every month from workday' },
]
/** One more, in the week that is looked at. */
async function add(): Promise<void> {
  const event = await addPart('event', 'Days that differ')
  if (event) await store.apply({ verb: 'set-event-days', event, by: 'dates', first: first.value })
}
function setWhen(event: PlanEvent, by: string): void {
  const when = { by: by as PlanEvent['when']['kind'], first: first.value }
  void store.apply({ verb: 'set-event-days', event: event.id, ...when })
}
function toggle(at: Lens<PlanEvent>, group: string): void {
  store.alter(at, (event) => {
    event.groups = event.groups.includes(group)
      ? event.groups.filter((name) => name !== group)
      : [...event.groups, group]
  })
}
/** Patterns that an event may have, and the one that it has. */
function patterns(event: PlanEvent) {
  const own = event.pattern ? [event.pattern] : []
  return [...new Set([...own, ...facts.patternsOf(event.id)])].map((id) => ({
    value: id,
    text: words(id).toLowerCase(),
  }))
}
</script>

<template>
  <section data-testid="events">
    <h2>Days that differ</h2>
    <PlanPart v-for="{ value: event, key, at } in events" :key="key" :of="at">
      <div class="event" data-testid="event">
        <NameToken what="event" :part="event" />,
        <ChoiceToken
          label="When"
          :options="WHEN"
          :model-value="event.when.kind"
          @update:model-value="(v) => setWhen(event, v)"
        />
        {{ ' ' }}
        <template v-if="event.when.kind === 'dates'">
          <FieldToken field="when.from" label="First day" kind="date" /> to
          <FieldToken field="when.to" label="Last day" kind="date" />
          (<button class="link" @click="go(String(event.when.from))">show</button>)
        </template>
        <template v-else>
          <FieldToken field="when.from" label="First workday" /> to
          <FieldToken field="when.to" label="Last workday" />
        </template>
        for
        <details class="who">
          <summary>
            {{ event.groups.length ? event.groups.map((id) => called('groups', id)).join(', ') : 'everyone' }}
          </summary>
          <label v-for="group in plan.groups" :key="group.id">
            <input
              type="checkbox"
              :checked="event.groups.includes(group.id)"
              @change="toggle(at, group.id)"
            />
            {{ nameOf(group) }}
          </label>
        </details>
        : demand is <FieldToken field="factor" label="Times as much" unit="×" />, everything
        <FieldToken field="shift_minutes" label="Minutes later" unit="min later" />, on
        <FieldToken
          field="pattern"
          label="Pattern on these days"
          :options="patterns(event)"
          none="own patterns"
        />.
        <PartActs what="event" :part="event" />
      </div>
    </PlanPart>
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
