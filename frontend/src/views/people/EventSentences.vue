<script setup lang="ts">
import { computed } from 'vue'

import type { Plan, PlanEvent } from '@/api/client'
import NameToken from '@/parts/NameToken.vue'
import PartActs from '@/parts/PartActs.vue'
import { addPart } from '@/parts/parts'
import { called, nameOf } from '@/plan/called'
import { useFacts } from '@/plan/facts'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'
import { tableRows, type Column, type TableRow } from '@/table/columns'
import PartTable from '@/table/PartTable.vue'
import { useWeek } from '@/views/frame/useWeek'

/** Days that differ: what happens to whom, and when. */
const props = defineProps<{ plan: Plan }>()
const { first, go } = useWeek()
const store = usePlan()
const facts = useFacts()
const events = computed(() => tableRows(PLAN.at('events').rows(props.plan)))
const eventOf = (row: TableRow) => row.part as PlanEvent
const columns = computed<Column[]>(() => [
  { field: 'when.from', head: 'From' },
  { field: 'when.to', head: 'To' },
  { field: 'factor', head: 'Demand', unit: '×' },
  { field: 'shift_minutes', head: 'Later by', unit: 'min' },
])

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
function toggle(id: string, group: string): void {
  store.alter(PLAN.at('events').item(id), (event) => {
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
    <PartTable v-if="events.length" label="Days that differ" head="What" :columns="columns" :rows="events">
      <template #name="{ row }">
        <span data-testid="event"><NameToken what="event" :part="row.part" /></span>
      </template>
      <template #open="{ row }">
        <PlanPart :of="row.at">
          {{ row.name }},
        <ChoiceToken
          label="When"
          :options="WHEN"
          :model-value="eventOf(row).when.kind"
          @update:model-value="(v) => setWhen(eventOf(row), v)"
        />
        {{ ' ' }}
        <template v-if="eventOf(row).when.kind === 'dates'">
          <FieldToken field="when.from" label="First day" kind="date" /> to
          <FieldToken field="when.to" label="Last day" kind="date" />
          (<button class="link" @click="go(String(eventOf(row).when.from))">show</button>)
        </template>
        <template v-else>
          <FieldToken field="when.from" label="First workday" /> to
          <FieldToken field="when.to" label="Last workday" />
        </template>
        for
        <details class="who">
          <summary>
            {{ eventOf(row).groups.length ? eventOf(row).groups.map((id) => called('groups', id)).join(', ') : 'everyone' }}
          </summary>
          <label v-for="group in plan.groups" :key="group.id">
            <input
              type="checkbox"
              :checked="eventOf(row).groups.includes(group.id)"
              @change="toggle(row.part.id, group.id)"
            />
            {{ nameOf(group) }}
          </label>
        </details>
        : demand is <FieldToken field="factor" label="Times as much" unit="×" />, everything
        <FieldToken field="shift_minutes" label="Minutes later" unit="min later" />, on
        <FieldToken
          field="pattern"
          label="Pattern on these days"
          :options="patterns(eventOf(row))"
          none="own patterns"
        />.
          <PartActs what="event" :part="row.part" />
        </PlanPart>
      </template>
    </PartTable>
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
