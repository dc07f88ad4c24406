<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import NameToken from '@/parts/NameToken.vue'
import PartActs from '@/parts/PartActs.vue'
import { nameOf } from '@/plan/called'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import FieldToken from '@/ui/FieldToken.vue'
import OptionalToken from '@/ui/OptionalToken.vue'

import type { Hosts } from './useHosts'

/** The host size that is looked at, as a sentence: what it has, what bounds it, what it costs. */
const props = defineProps<{ hosts: Hosts; plan: Plan }>()
const { store } = props.hosts
const sizeAt = computed(() => PLAN.at('sizes').item(props.hosts.size.value?.id ?? ''))
const size = computed(() => sizeAt.value.read(props.plan))

const ways = { burst: 'On credits', free: 'Chosen freely', machine: 'Own hardware' } as const
function extend(by: 'burst' | 'free' | 'machine' | 'committed'): void {
  if (size.value) void store.apply({ verb: 'extend-size', size: size.value.id, by })
}
type Place = Plan['places'][number]
const has = (place: Place) =>
  place.offers.length === 0 || place.offers.some((o) => o.size === size.value?.id)
async function offer(place: Place, box: HTMLInputElement): Promise<void> {
  const own = size.value?.id
  if (!own) return
  const there = box.checked
  const done = await store.apply({
    verb: 'offer-size',
    size: own,
    place: place.id,
    there,
  })
  if (!done) box.checked = !there
}
const look = (id: string | undefined) => props.hosts.go({ size: id })
</script>

<template>
  <PlanPart v-if="size" :key="size.id" :of="sizeAt">
    <p class="size" data-testid="size-sentence">
      <NameToken what="size" :part="size" />: <FieldToken field="vcpu" label="vCPU of a host" unit="vCPU" />,
      <FieldToken field="memory_gib" label="Memory of a host" unit="GiB" />,
      <FieldToken field="gpu_gib" label="GPU memory of a host" unit="GiB of GPU" />; disk
      <OptionalToken
        field="disk_ops"
        label="Disk operations a host can do"
        none="not known to bind"
        unit="operations/s"
        :start="5000"
      />, network
      <OptionalToken
        field="network_mbit"
        label="Network of a host"
        none="not known to bind"
        unit="Mbit/s"
        :start="1000"
      />, cache <FieldToken field="cache_gib" label="Cache of a host" unit="GiB" />, quota
      <OptionalToken field="quota" label="Quota" none="without bound" unit="vCPU" :start="1000" /><span
        v-if="size.quota_asked"
        data-testid="quota-asked"
        >;
        <FieldToken field="quota_asked.value" label="Quota that is requested" unit="vCPU" /> are
        requested from
        <FieldToken field="quota_asked.owner" label="Who grants it" kind="text" /> by
        <OptionalToken
          field="quota_asked.due"
          label="When it is needed"
          none="any day"
          kind="date"
          :start="plan.week_of"
        />
        <button class="link" @click="store.apply({ verb: 'grant-quota', size: size.id })">
          It is granted
        </button>
        <button class="plain x" @click="store.set(sizeAt.at('quota_asked'), null)">
          not requested
        </button></span
      >.
      An hour costs
      <FieldToken field="hourly" label="Hourly price" kind="money" :unit="plan.currency" /> ({{
        size.source
      }}), billed in steps of
      <FieldToken field="billing_step_seconds" label="Billing step" unit="s" /> and at least
      <FieldToken field="billing_minimum_seconds" label="Least billed run" unit="s" />.
      <PlanPart
        v-for="term in sizeAt.at('committed').rows(plan)"
        :key="term.key"
        :of="term.at"
      >
        Committed for <FieldToken field="years" label="Years" />
        {{ term.value.years === 1 ? 'year' : 'years' }}:
        <FieldToken field="hourly" label="Committed price" kind="money" />
        <button
          class="plain x"
          :aria-label="`No price for ${term.value.years} years`"
          @click="store.remove(term.at)"
        >
          clear</button
        >.
      </PlanPart>
      <template v-if="size.burst">
        It always has
        <FieldToken field="burst.baseline" label="Baseline" :scale="100" unit="%" /> of its CPU,
        starts with <FieldToken field="burst.first" label="First credits" unit="vCPU-hours" /> of
        credits and keeps at most <FieldToken field="burst.most" label="Most credits" />
        <button class="plain x" @click="store.set(sizeAt.at('burst'), null)">no credits</button>.
      </template>
      <template v-if="size.free">
        Chosen from <FieldToken field="free.vcpu_low" label="Fewest vCPU" /> to
        <FieldToken field="free.vcpu_high" label="Most vCPU" unit="vCPU" /> in steps of
        <FieldToken field="free.vcpu_step" label="Step of vCPU" />, with
        <FieldToken field="free.gib_per_vcpu_low" label="Least memory for each vCPU" /> to
        <FieldToken field="free.gib_per_vcpu_high" label="Most memory for each vCPU" /> GiB for
        each; a vCPU adds
        <FieldToken field="free.per_vcpu" label="Price of each vCPU" kind="money" />, a GiB
        <FieldToken field="free.per_gib" label="Price of each GiB" kind="money" /> an hour
        <button class="plain x" @click="store.set(sizeAt.at('free'), null)">a fixed size</button
        >.
      </template>
      <template v-if="size.machine">
        One machine of one's own holds
        <FieldToken field="machine.hosts" label="Hosts on a machine" /> and costs
        <FieldToken field="machine.hourly" label="Price of a machine" kind="money" /> an hour
        <button class="plain x" @click="store.set(sizeAt.at('machine'), null)">
          shared hardware</button
        >.
      </template>
      <template v-if="plan.places.length">
        Places that have it:
        <label v-for="place in plan.places" :key="place.id" class="there">
          <input
            type="checkbox"
            :checked="has(place)"
            @change="offer(place, $event.target as HTMLInputElement)"
          />{{ nameOf(place) }}</label
        >.
      </template>
      <span class="more">
        <button
          v-for="(name, by) in ways"
          v-show="!size[by]"
          :key="by"
          class="link"
          @click="extend(by)"
        >
          {{ name }}
        </button>
        <button v-if="size.committed.length < 5" class="link" @click="extend('committed')">
          A committed price
        </button>
        <PartActs what="size" :part="size" @made="look" @gone="look(undefined)" />
      </span>
    </p>
  </PlanPart>
</template>

<style scoped>
.size {
  padding: 2px 16px 4px;
  line-height: 1.62;
}
.there {
  white-space: nowrap;
  margin-right: 8px;
}
.more {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 2px 12px;
}
.x {
  color: var(--ink-quiet);
  font-size: 12px;
  padding: 0 4px;
}
</style>
