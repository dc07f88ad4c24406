<script setup lang="ts">
import { computed } from 'vue'

import type { Headcount } from '@/api/client'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import DateToken from '@/ui/DateToken.vue'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'

import type { usePeople } from './usePeople'

/** Whether people keep to their pattern by share, or crews take turns with them. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; headcount: Headcount }>()

const turn = computed(() => props.headcount.rotation)
const options = computed(() => [
  ...props.headcount.patterns.map((p) => ({ value: p.id, text: words(p.id).toLowerCase() })),
  { value: '', text: 'rest' },
])

function edit(change: (headcount: Headcount) => void): void {
  props.people.editGroup((group) => {
    if (group.demand.kind === 'headcount') change(group.demand as Headcount)
  })
}
function begin(): void {
  const since = props.people.first.value
  edit((headcount) => {
    headcount.rotation = {
      every_days: 7,
      order: [...headcount.patterns.map((p) => p.id), null],
      since,
    } as never
  })
}
function end(): void {
  edit((headcount) => {
    headcount.rotation = null as never
    headcount.patterns.forEach((p) => (p.share = p.id === headcount.patterns[0]?.id ? 1 : 0))
  })
}
const place = (k: number, value: string) =>
  edit(({ rotation }) => {
    if (rotation) rotation.order[k] = value === '' ? (null as never) : value
  })
</script>

<template>
  <p v-if="turn">
    <FieldScope
      :of="turn"
      path="groups.demand.rotation"
      :edit="(change) => edit((h) => h.rotation && change(h.rotation as never))"
    >
      {{ turn.order.length }} crews take turns every
      <FieldToken field="every_days" label="Days of a turn" unit="days" />:
      <template v-for="(name, k) in turn.order" :key="k"
        >{{ k ? ', then ' : ''
        }}<ChoiceToken
          :label="`Turn ${k + 1}`"
          :options="options"
          :model-value="name ?? ''"
          @update:model-value="(v) => place(k, v)"
      /></template>
      (<button class="link" @click="edit((h) => h.rotation?.order.push(null as never))">
        one more</button
      ><template v-if="turn.order.length > 1"
        >,
        <button class="link" @click="edit((h) => h.rotation?.order.pop())">
          one less
        </button></template
      >), counted from
      <DateToken
        label="First day of the rotation"
        :model-value="turn.since"
        @update:model-value="(v) => edit((h) => h.rotation && (h.rotation.since = v))"
      />.
      <button class="link" @click="end">Everyone keeps to one pattern instead</button>
    </FieldScope>
  </p>
  <p v-else>
    <button class="link" data-testid="rotate" @click="begin">
      Let crews take turns with the patterns
    </button>
  </p>
</template>
