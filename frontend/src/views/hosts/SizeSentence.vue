<script setup lang="ts">
import { computed } from 'vue'

import type { Plan, Size } from '@/api/client'
import { copyOf } from '@/stores/copy'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'
import { freeId } from '@/ui/ids'
import OptionalToken from '@/ui/OptionalToken.vue'

import type { Hosts } from './useHosts'

/** The host size that is looked at, as a sentence: what it has, what bounds it, what it costs. */
const props = defineProps<{ hosts: Hosts; plan: Plan }>()
const index = computed(() => props.plan.sizes.findIndex((s) => s.id === props.hosts.size.value?.id))
const size = computed(() => props.plan.sizes[index.value] as Size | undefined)
const used = computed(() => props.plan.pools.some((p) => p.size === size.value?.id))

function edit(change: (size: Size) => void): void {
  const at = index.value
  props.hosts.store.edit((plan) => {
    const found = plan.sizes[at]
    if (found) change(found as Size)
  })
}
/** Freely chosen within bounds that hold what is chosen now. */
function choose(): void {
  edit((s) => {
    const ratio = s.memory_gib / s.vcpu
    s.free = {
      vcpu_low: s.vcpu,
      vcpu_high: s.vcpu * 2,
      vcpu_step: 1,
      gib_per_vcpu_low: Math.min(ratio, 2),
      gib_per_vcpu_high: Math.max(ratio, 8),
      per_vcpu: '0',
      per_gib: '0',
    }
  })
}
function commit(): void {
  edit((s) => {
    const years = [1, 3, 2, 4, 5].find((y) => !s.committed.some((c) => c.years === y))
    if (years) s.committed.push({ years, hourly: s.hourly })
  })
}
type Place = Plan['places'][number]
const has = (place: Place) =>
  place.offers.length === 0 || place.offers.some((o) => o.size === size.value?.id)
/** Whether a place has the size; one that had everything is first told what that is. */
function toggle(id: string): void {
  const own = size.value?.id
  if (!own) return
  props.hosts.store.edit((plan) => {
    const place = plan.places.find((p) => p.id === id)
    if (!place) return
    if (!place.offers.length)
      place.offers = plan.sizes.map((s) => ({ size: s.id, zones: [], hourly: null as never }))
    const there = place.offers.some((o) => o.size === own)
    place.offers = there
      ? place.offers.filter((o) => o.size !== own)
      : [...place.offers, { size: own, zones: [], hourly: null as never }]
  })
}
function copy(): void {
  const from = size.value
  if (!from) return
  const id = freeId(
    `${from.id}-copy`,
    props.plan.sizes.map((s) => s.id),
  )
  props.hosts.store.edit((plan) => {
    plan.sizes.push({ ...copyOf(from), id, source: 'typed' })
    // What has the one has the other, until somebody says otherwise.
    for (const place of plan.places) {
      const offer = place.offers.find((o) => o.size === from.id)
      if (offer) place.offers.push({ ...copyOf(offer), size: id })
    }
  })
  props.hosts.go({ size: id })
}
async function remove(): Promise<void> {
  if (!size.value) return
  const done = await props.hosts.store.apply({ verb: 'remove-size', size: size.value.id })
  if (done) props.hosts.go({ size: undefined })
}
</script>

<template>
  <FieldScope v-if="size" :key="size.id" :of="size" path="sizes" :edit="edit">
    <p class="size" data-testid="size-sentence">
      <b>{{ words(size.id) }}</b>: <FieldToken field="vcpu" label="vCPU of a host" unit="vCPU" />,
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
      <OptionalToken field="quota" label="Quota" none="without bound" unit="vCPU" :start="1000" />.
      An hour costs
      <FieldToken field="hourly" label="Hourly price" kind="money" :unit="plan.currency" /> ({{
        size.source
      }}), billed in steps of
      <FieldToken field="billing_step_seconds" label="Billing step" unit="s" whole /> and at least
      <FieldToken field="billing_minimum_seconds" label="Least billed run" unit="s" whole />.
      <template v-for="(term, k) in size.committed" :key="term.years">
        Committed for <FieldToken :field="`committed.${k}.years`" label="Years" whole />
        {{ term.years === 1 ? 'year' : 'years' }}:
        <FieldToken :field="`committed.${k}.hourly`" label="Committed price" kind="money" />
        <button
          class="plain x"
          :aria-label="`No price for ${term.years} years`"
          @click="edit((s) => s.committed.splice(k, 1))"
        >
          clear</button
        >.
      </template>
      <template v-if="size.burst">
        It always has
        <FieldToken field="burst.baseline" label="Baseline" :scale="100" unit="%" /> of its CPU,
        starts with <FieldToken field="burst.first" label="First credits" unit="vCPU-hours" /> of
        credits and keeps at most <FieldToken field="burst.most" label="Most credits" />
        <button class="plain x" @click="edit((s) => (s.burst = null as never))">no credits</button>.
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
        <button class="plain x" @click="edit((s) => (s.free = null as never))">a fixed size</button
        >.
      </template>
      <template v-if="size.machine">
        One machine of one's own holds
        <FieldToken field="machine.hosts" label="Hosts on a machine" whole /> and costs
        <FieldToken field="machine.hourly" label="Price of a machine" kind="money" /> an hour
        <button class="plain x" @click="edit((s) => (s.machine = null as never))">
          shared hardware</button
        >.
      </template>
      <template v-if="plan.places.length">
        Places that have it:
        <label v-for="place in plan.places" :key="place.id" class="there">
          <input type="checkbox" :checked="has(place)" @change="toggle(place.id)" />{{
            words(place.id)
          }}</label
        >.
      </template>
      <span class="more">
        <button
          v-if="!size.burst"
          class="link"
          @click="edit((s) => (s.burst = { baseline: 0.2, first: 0, most: 24 }))"
        >
          On credits
        </button>
        <button v-if="!size.free" class="link" @click="choose">Chosen freely</button>
        <button
          v-if="!size.machine"
          class="link"
          @click="edit((s) => (s.machine = { hosts: 8, hourly: '1.00' }))"
        >
          Own hardware
        </button>
        <button v-if="size.committed.length < 5" class="link" @click="commit">
          A committed price
        </button>
        <button class="link" data-testid="copy-size" @click="copy">Another size like it</button>
        <button v-if="!used && plan.sizes.length > 1" class="link" @click="remove">
          Remove it
        </button>
      </span>
    </p>
  </FieldScope>
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
