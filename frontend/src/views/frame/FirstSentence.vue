<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import { useZones } from '@/help/zones'
import { usePlan } from '@/plan/store'
import { counted, currencySign } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'
import ValueToken from '@/ui/ValueToken.vue'

import { useFirst } from './useFirst'

/** An empty plan begins with two sentences; that is all a first week needs. */
const props = defineProps<{ plan: Plan }>()
const zones = useZones()
const store = usePlan()

const { facts, typed, proposed, sizing } = useFirst(() => props.plan)
const missing = computed(() => {
  const gaps: string[] = []
  if (facts.people < 1) gaps.push('how many people')
  if (facts.hosts < 1) gaps.push('how many hosts exist')
  return gaps
})
/** A number that the planner typed is the planner's: no proposal takes its place. */
function own(what: 'hosts' | 'limit', value: number): void {
  typed.value = { ...typed.value, [what]: true }
  if (what === 'hosts') facts.hosts = value
  else facts.session_limit = value
}
const binds = computed(() => (proposed.value?.binds === 'cpu' ? 'CPU' : proposed.value?.binds))
const begin = () => store.apply({ verb: 'begin-plan', ...facts })
</script>

<template>
  <form class="first" data-testid="first" @submit.prevent="begin">
    <h2>{{ props.plan.name }} is empty. Say who comes, and onto what.</h2>
    <p>
      <ValueToken v-model="facts.people" label="People" path="groups.demand.people" />
      people on the clock of
      <ValueToken
        v-model="facts.zone"
        kind="text"
        label="Time zone"
        list="first-zones"
        :allowed="zones"
      />
      start at about
      <ValueToken v-model="facts.start" kind="clock" label="Start" />
      and stay
      <ValueToken v-model="facts.hours" label="Hours they stay" unit="hours" />.
    </p>
    <p>
      They share
      <ValueToken
        :model-value="facts.hosts"
        label="Hosts"
        path="pools.hosts.standing"
        @update:model-value="own('hosts', Number($event))"
      />
      hosts of
      <ValueToken v-model="facts.vcpu" label="vCPU of a host" path="sizes.vcpu" unit="vCPU" />
      and
      <ValueToken
        v-model="facts.memory_gib"
        label="Memory of a host"
        path="sizes.memory_gib"
        unit="GiB"
      />
      at {{ currencySign(props.plan.currency)
      }}<ValueToken v-model="facts.hourly" kind="money" label="Hourly price" />
      an hour, with up to
      <ValueToken
        :model-value="facts.session_limit ?? 10"
        label="Session limit"
        path="pools.session_limit"
        @update:model-value="own('limit', Number($event))"
      />
      sessions on each.
    </p>
    <p v-if="proposed" class="why" role="status" data-testid="proposed">
      At most {{ counted(proposed.peak, 'session') }} at once in 95 % of weeks. A host of this size
      bears {{ proposed.bears }}: {{ binds }} binds first.
      {{ counted(proposed.hosts, 'host') }} with {{ counted(proposed.limit, 'session') }} each hold
      them, with one host to spare.
    </p>
    <ProblemNote v-if="sizing.problem.value" :problem="sizing.problem.value" />
    <datalist id="first-zones">
      <option v-for="zone in zones" :key="zone" :value="zone" />
    </datalist>
    <p class="go">
      <ElButton
        type="primary"
        native-type="submit"
        :disabled="missing.length > 0"
        data-testid="begin"
        @click.prevent="begin"
      >
        See the week
      </ElButton>
      <span v-if="missing.length" class="quiet">Still to say: {{ missing.join(' and ') }}.</span>
      <span v-else class="quiet">
        Everything else starts from stated defaults and is edited on the picture.
      </span>
    </p>
  </form>
</template>

<style scoped>
.first {
  max-width: 78ch;
  margin: 9vh auto 0;
  font-size: 20px;
  line-height: 2;
  padding: 0 24px;
}
h2 {
  font-size: 20px;
  font-weight: 650;
  border-bottom: 3px solid var(--brass);
  margin-bottom: 16px;
}
.why {
  font-size: 13.5px;
  line-height: 1.5;
  color: var(--ink-quiet);
  margin-top: 12px;
}
.go {
  display: flex;
  align-items: center;
  gap: 16px;
  margin-top: 20px;
  font-size: 13.5px;
}
</style>
