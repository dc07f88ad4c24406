<script setup lang="ts">
import { computed } from 'vue'

import type { CrowdAnswer } from '@/api/client'
import { called } from '@/plan/called'
import { stackOrder, toneOf } from './stack'
import { count } from '@/ui/format'

import AddGroup from './AddGroup.vue'
import type { usePeople } from './usePeople'
import WhatIf from './WhatIf.vue'

/** The groups beside the picture, then what the picture cannot show: clocks, doubles, findings. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; answer: CrowdAnswer }>()

const rows = computed(() =>
  stackOrder(props.answer.groups).map((group, place) => ({ ...group, tone: toneOf(place) })),
)
const chosen = computed(() => props.people.group.value?.id ?? '')
function choose(id: string): void {
  props.people.go({
    group: id === chosen.value ? undefined : id,
    pattern: undefined,
    panel: undefined,
  })
}
/** A finding is mended at its group, where it has one. */
function open(pointer: string): void {
  const plan = props.people.store.plan
  const [, list, place] = pointer.split('/')
  const index = Number(place)
  const id =
    list === 'groups'
      ? plan?.groups[index]?.id
      : list === 'access'
        ? plan?.access[index]?.group
        : undefined
  if (id) props.people.go({ group: id, pattern: undefined, panel: undefined })
}
</script>

<template>
  <aside class="column" aria-label="Groups">
    <table class="groups">
      <thead>
        <tr>
          <th scope="col">Group</th>
          <th scope="col" class="n">people</th>
          <th scope="col" class="n">peak</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.id" :class="{ chosen: row.id === chosen }">
          <td>
            <button
              class="plain"
              :aria-pressed="row.id === chosen"
              data-testid="group"
              @click="choose(row.id)"
            >
              <span class="tone" :style="{ background: row.tone }"></span>{{ called('groups', row.id) }}
            </button>
          </td>
          <td class="n">{{ row.headcount === null ? 'drop in' : count(row.headcount) }}</td>
          <td class="n">{{ count(row.peak) }}</td>
        </tr>
      </tbody>
    </table>
    <AddGroup :look="people.look" />
    <WhatIf :people="people" />
    <section v-if="answer.zones.length > 1">
      <h3>By the clock they live by</h3>
      <p v-for="zone in answer.zones" :key="zone.zone">
        <b>{{ count(zone.people) }}</b> on {{ zone.zone }}
      </p>
    </section>
    <section data-testid="doubles">
      <h3>More than one desktop</h3>
      <template v-if="answer.doubles.people">
        <p>
          <b>{{ count(answer.doubles.people) }}</b> people may open more than one. That adds
          <b>{{ count(answer.doubles.added_sessions) }}</b> sessions at the peak and
          <b>{{ count(answer.doubles.added_hours) }}</b> session-hours in this week.
        </p>
        <p v-for="kin in answer.doubles.kin" :key="kin.groups.join()" class="quiet">
          {{ count(kin.people) }} of {{ kin.groups.map((id) => called('groups', id)).join(' and ') }}:
          {{ kin.pools.map((id) => called('pools', id)).join(', ') }}
        </p>
      </template>
      <p v-else class="quiet">Nobody may open more than one.</p>
    </section>
    <section v-if="answer.findings.length" data-testid="findings">
      <h3>Found</h3>
      <div v-for="(found, k) in answer.findings" :key="k" class="found" :class="found.severity">
        <button class="plain" @click="open(found.pointer)">
          <span aria-hidden="true">{{ found.severity === 'harm' ? '▲' : '○' }}</span>
          {{ found.message }}
        </button>
        <p class="quiet">{{ found.matters }}; {{ found.mend }}.</p>
      </div>
    </section>
  </aside>
</template>

<style scoped>
.column {
  border-left: 1px solid var(--hair-strong);
  padding: 8px 14px 24px;
  overflow-y: auto;
}
.groups {
  width: 100%;
  border-collapse: collapse;
}
th {
  font-weight: 500;
  color: var(--ink-quiet);
  text-align: left;
  font-size: 12px;
}
td {
  padding: 1px 0;
  border-bottom: 1px solid var(--hair);
}
.n {
  text-align: right;
  padding-left: 8px;
  white-space: nowrap;
}
tr.chosen td {
  background: var(--paper-sunk);
  font-weight: 650;
}
td button {
  width: 100%;
}
.tone {
  display: inline-block;
  width: 11px;
  height: 11px;
  margin-right: 7px;
  border: 1px solid var(--ink);
  vertical-align: -1px;
}
section {
  margin-top: 12px;
}
.found {
  margin-top: 4px;
}
.found.harm button {
  color: var(--buoy);
}
</style>
