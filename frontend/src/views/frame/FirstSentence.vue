<script setup lang="ts">
import { computed, reactive } from 'vue'

import type { Plan } from '@/api/client'
import { useZones } from '@/help/zones'
import { usePlan } from '@/plan/store'
import ValueToken from '@/ui/ValueToken.vue'

/** An empty plan begins with two sentences; that is all a first week needs. */
const props = defineProps<{ plan: Plan }>()
const zones = useZones()
const store = usePlan()

const facts = reactive({
  people: 0,
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'Europe/Dublin',
  start: '08:45',
  hours: 8.25,
  vcpu: 8,
  memory_gib: 32,
  hourly: '0.40',
  hosts: 0,
  session_limit: 10,
})
const missing = computed(() => {
  const gaps: string[] = []
  if (facts.people < 1) gaps.push('how many people')
  if (facts.hosts < 1) gaps.push('how many hosts exist')
  return gaps
})
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
      <ValueToken v-model="facts.hosts" label="Hosts" path="pools.hosts.standing" />
      hosts of
      <ValueToken v-model="facts.vcpu" label="vCPU of a host" path="sizes.vcpu" unit="vCPU" />
      and
      <ValueToken
        v-model="facts.memory_gib"
        label="Memory of a host"
        path="sizes.memory_gib"
        unit="GiB"
      />
      at
      <ValueToken v-model="facts.hourly" kind="money" label="Hourly price" />
      {{ props.plan.currency }} an hour, with up to
      <ValueToken v-model="facts.session_limit" label="Session limit" path="pools.session_limit" />
      sessions on each.
    </p>
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
.go {
  display: flex;
  align-items: center;
  gap: 16px;
  margin-top: 20px;
  font-size: 13.5px;
}
</style>
