<script setup lang="ts">
import { computed } from 'vue'

import { called } from '@/plan/called'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import ValueToken from '@/ui/ValueToken.vue'

import type { Hosts } from './useHosts'

/** What is asked of the picture, as a sentence. */
const props = defineProps<{ hosts: Hosts }>()
const answer = computed(() => props.hosts.answer.value)
const OF = [
  { value: '0.5', text: 'every other week' },
  { value: '0.9', text: '9 of 10 weeks' },
  { value: '0.95', text: '95 % of weeks' },
  { value: '0.99', text: '99 % of weeks' },
]
const groups = computed(() => [
  { value: '', text: 'everyone who comes' },
  ...props.hosts.groups.value.map((id) => ({ value: id, text: called('groups', id) })),
])
const LOSS = [
  { value: 'kept', text: 'all zones there' },
  { value: 'lost', text: 'one zone lost' },
]
const shown = computed(() => props.hosts.active.value ?? answer.value?.active_share ?? 1)
</script>

<template>
  <p class="ask" data-testid="ask">
    Hosts for
    <ChoiceToken
      label="For whom"
      :options="groups"
      :model-value="hosts.group.value ?? ''"
      @update:model-value="(v) => hosts.go({ group: v || undefined })"
    />, enough in
    <ChoiceToken
      label="In how many weeks they are enough"
      :options="OF"
      :model-value="String(hosts.percentile.value)"
      @update:model-value="(v) => hosts.go({ of: v === '0.95' ? undefined : v })"
    />, with
    <ValueToken
      label="Hosts to spare"
      path="SizingBody.spare"
      :model-value="hosts.spare.value"
      @update:model-value="(v) => hosts.go({ spare: Number(v) > 0 ? String(v) : undefined })"
    />
    to spare<template v-if="(answer?.zones.length ?? 0) > 1">
      and
      <ChoiceToken
        label="Zones"
        :options="LOSS"
        :model-value="hosts.loseZone.value ? 'lost' : 'kept'"
        @update:model-value="(v) => hosts.go({ zone: v })" /></template
    >;
    <ValueToken
      label="Share of sessions that are active, in per cent"
      unit="%"
      :scale="100"
      path="SizingBody.active_share"
      :model-value="Math.round(shown * 1000) / 1000"
      @update:model-value="(v) => hosts.go({ active: String(v) })"
    />
    of the sessions are active at the peak<template v-if="hosts.active.value !== null">
      (<button class="link" @click="hosts.go({ active: undefined })">as drawn</button>)</template
    >.
  </p>
</template>

<style scoped>
.ask {
  padding: 2px 16px 4px;
}
</style>
