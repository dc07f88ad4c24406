<script setup lang="ts">
import { computed } from 'vue'

import type { Plan, Pool } from '@/api/client'
import { nameOf } from '@/plan/called'
import { PLAN, type Lens } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { PARTS } from '@/ui/promise'
import ValueToken from '@/ui/ValueToken.vue'

/** What people are owed: everyone, or those of this pool where it has a promise of its own. */
const props = defineProps<{
  plan: Plan
  pool: Pool
  /** What its people are owed, as the core tells it; nothing until then. */
  owed: Partial<Record<string, number | null>> | null
}>()
const store = usePlan()
const EVERYONE = PLAN.at('promise')

type Field = keyof NonNullable<Pool['promise']>
const ownAt = computed(() => PLAN.at('pools').item(props.pool.id).at('promise'))
const own = computed(() => props.pool.promise)
/** What is typed stands there before the core has told what it comes to. */
const valueOf = (field: Field) => partAt(field).read(props.plan) ?? props.owed?.[field]
const partAt = (field: Field): Lens<number | null> =>
  own.value ? (ownAt.value.at(field) as Lens<number | null>) : (EVERYONE.at(field) as Lens<number | null>)
const WHOM = computed(() => [
  { value: 'all', text: 'everyone' },
  { value: 'own', text: `the people of ${nameOf(props.pool)} alone` },
])
/** The parts that are promised, and those that could be. */
const promised = computed(() => PARTS.filter(({ field }) => (valueOf(field) ?? null) !== null))
const free = computed(() => PARTS.filter(({ field, optional }) => optional && valueOf(field) === null))
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
      />:
      <template v-for="{ field, spoken, timed, sentence, optional } in promised" :key="field">
        {{ sentence[0] ? `${sentence[0]} ` : ''
        }}<span class="held"
          ><ValueToken
          :label="`Promise of ${spoken} in ${timed ? 'seconds' : 'per cent'}`"
          :unit="timed ? 's' : '%'"
          :scale="timed ? 1 : 100"
          :path="partAt(field).path"
          :model-value="valueOf(field) ?? 0"
          @update:model-value="(v) => store.set(partAt(field), Number(v))"
        /><button
          v-if="optional && !own"
          class="link tiny"
          :aria-label="`Do not promise ${spoken}`"
          title="do not promise this"
          @click="store.set(EVERYONE.at(field), null)"
        >
          ×</button
        >{{ sentence[1].match(/^[,.]/)?.[0] }}</span
        >{{ sentence[1].replace(/^[,.]/, '') ? ` ${sentence[1]}` : '' }}{{ ' ' }}
      </template>
      <template v-for="{ field, spoken, usual } in free" :key="field">
        <button class="link quiet" @click="store.set(partAt(field), usual)">
          Promise {{ spoken }} too</button
        >{{ ' ' }}
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
.held {
  white-space: nowrap;
}
</style>
