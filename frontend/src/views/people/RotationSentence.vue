<script setup lang="ts">
import { computed } from 'vue'

import type { Headcount } from '@/api/client'
import { nameOf } from '@/plan/called'
import PlanPart from '@/plan/PlanPart.vue'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'

import type { usePeople } from './usePeople'

/** Whether people keep to their pattern by share, or crews take turns with them. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; headcount: Headcount }>()

const { store } = props.people
const turn = computed(() => props.headcount.rotation)
const turnAt = computed(() => props.people.headcountAt.value.at('rotation'))
const options = computed(() => [
  ...props.headcount.patterns.map((p) => ({ value: p.id, text: nameOf(p).toLowerCase() })),
  { value: '', text: 'rest' },
])
const group = () => props.people.group.value?.id ?? ''

function begin(): void {
  const since = props.people.first.value
  void store.apply({ verb: 'begin-rotation', group: group(), since })
}
function end(): void {
  void store.apply({ verb: 'end-rotation', group: group() })
}
function order(change: (order: (string | null)[]) => void): void {
  store.alter(turnAt.value.at('order'), change)
}
</script>

<template>
  <p v-if="turn">
    <PlanPart :of="turnAt">
      {{ turn.order.length }} crews take turns every
      <FieldToken field="every_days" label="Days of a turn" unit="days" />:
      <template v-for="(name, k) in turn.order" :key="k"
        >{{ k ? ', then ' : ''
        }}<ChoiceToken
          :label="`Turn ${k + 1}`"
          :options="options"
          :model-value="name ?? ''"
          @update:model-value="(v) => order((turns) => (turns[k] = v || null))"
      /></template>
      (<button class="link" @click="order((turns) => turns.push(null))">one more</button
      ><template v-if="turn.order.length > 1"
        >,
        <button class="link" @click="order((turns) => turns.pop())">one less</button></template
      >), counted from
      <FieldToken field="since" label="First day of the rotation" kind="date" />.
      <button class="link" @click="end">Everyone keeps to one pattern instead</button>
    </PlanPart>
  </p>
  <p v-else>
    <button class="link" data-testid="rotate" @click="begin">
      Let crews take turns with the patterns
    </button>
  </p>
</template>
