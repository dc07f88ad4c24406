<script setup lang="ts">
import { computed } from 'vue'

import type { Plan, Pool } from '@/api/client'
import { PLAN, type Lens } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

/** What people are owed: everyone, or those of this pool where it has a promise of its own. */
const props = defineProps<{
  plan: Plan
  pool: Pool
  /** What its people are owed, as the core tells it; nothing until then. */
  owed: Partial<Record<string, number>> | null
}>()
const store = usePlan()
const EVERYONE = PLAN.at('promise')

type Part = keyof NonNullable<Pool['promise']>
const PARTS: { part: Part; label: string; unit?: string; then: string }[] = [
  { part: 'wait_p95_seconds', label: 'Promised wait in seconds', unit: 's', then: ', at most' },
  { part: 'refused_share', label: 'Promised refusals in per cent', then: 'refused,' },
  {
    part: 'strained_share',
    label: 'Promised strain in per cent',
    then: 'of working time strained, at most',
  },
  {
    part: 'lost_returns',
    label: 'Promised lost returns in per cent',
    then: 'of those who come back find their session gone,',
  },
  {
    part: 'forced_share',
    label: 'Promised forced sign-offs in per cent',
    then: 'of sessions end by force; a comfort of at least',
  },
  { part: 'comfort', label: 'Promised comfort in per cent', then: '.' },
]
const ownAt = computed(() => PLAN.at('pools').item(props.pool.id).at('promise'))
const own = computed(() => props.pool.promise)
/** What is typed stands there before the core has told what it comes to. */
const valueOf = (part: Part) => partAt(part).read(props.plan) ?? props.owed?.[part]
const partAt = (part: Part): Lens<number | null> =>
  own.value ? (ownAt.value.at(part) as Lens<number | null>) : (EVERYONE.at(part) as Lens<number | null>)
const WHOM = computed(() => [
  { value: 'all', text: 'everyone' },
  { value: 'own', text: `the people of ${words(props.pool.id)} alone` },
])
function setWhom(whom: string): void {
  void store.apply({ verb: 'give-own-promise', pool: props.pool.id, own: whom === 'own' })
}
</script>

<template>
  <section>
    <h3>The promise</h3>
    <p>
      To
      <ChoiceToken
        label="To whom this is promised"
        :options="WHOM"
        :model-value="own ? 'own' : 'all'"
        @update:model-value="setWhom"
      />: 19 of 20 logons within
      <template v-for="{ part, label, unit, then } in PARTS" :key="part">
        <ValueToken
          v-if="valueOf(part) !== undefined"
          :label="label"
          :unit="unit ?? '%'"
          :scale="unit ? 1 : 100"
          :path="partAt(part).path"
          :model-value="valueOf(part) ?? 0"
          @update:model-value="(v) => store.set(partAt(part), Number(v))"
        />{{ /^[,.]/.test(then) ? then : ` ${then}` }}{{ ' ' }}
      </template>
      <PlanPart :of="EVERYONE">
        For everyone: a round trip to the hosts within
        <FieldToken
          field="round_trip_ms"
          label="Promised round trip in milliseconds"
          unit="ms"
        />, and when a zone is lost
        <FieldToken
          field="zone_loss"
          label="Whether everyone finds room when a zone is lost"
          no="some may not"
          yes="all still"
        />
        find room.
      </PlanPart>
    </p>
  </section>
</template>

<style scoped>
section {
  break-inside: avoid;
  padding-bottom: 6px;
}
h3 {
  font-size: 13px;
  font-weight: 650;
}
</style>
