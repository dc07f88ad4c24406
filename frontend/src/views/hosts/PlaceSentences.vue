<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'
import { freeId } from '@/ui/ids'
import NamesToken from '@/ui/NamesToken.vue'

/** Places as sentences: their area, zones, lines to the sites; and what else a month costs. */
const props = defineProps<{ plan: Plan }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()
type Place = Plan['places'][number]
type Prices = Plan['prices']

const editPlace = (index: number) => (change: (place: Place) => void) =>
  emit('edit', (plan) => {
    const found = plan.places[index]
    if (found) change(found)
  })
const editPrices = (change: (prices: Prices) => void) => emit('edit', (plan) => change(plan.prices))
const unmeasured = (place: Place) =>
  props.plan.sites.filter((site) => !place.lines.some((line) => line.site === site.id))
const PER = [
  { value: 'named person', text: 'named person' },
  { value: 'peak session', text: 'session at the peak' },
  { value: 'active person', text: 'person seen' },
]
const used = computed(() => new Set(props.plan.pools.map((pool) => pool.place)))

function addPlace(): void {
  const id = freeId(
    'place',
    props.plan.places.map((p) => p.id),
  )
  emit('edit', (plan) => {
    plan.places.push({ id, area: 'here', zones: [], offers: [], lines: [] })
  })
}
function addLicence(): void {
  const id = freeId(
    'licence',
    props.plan.prices.licences.map((l) => l.id),
  )
  editPrices((prices) =>
    prices.licences.push({ id, monthly: '1.00', per: 'named person', pools: [] }),
  )
}
</script>

<template>
  <section data-testid="place-sentences">
    <h2>Places and other prices</h2>
    <FieldScope
      v-for="(place, index) in plan.places"
      :key="place.id"
      :of="place"
      path="places"
      :edit="editPlace(index)"
    >
      <p>
        <b>{{ words(place.id) }}</b> is in
        <FieldToken field="area" label="Legal area" kind="text" />, with zones
        <NamesToken field="zones" :label="`Zones of ${place.id}`" none="none" />. A round trip takes
        <template v-for="(line, k) in place.lines" :key="line.site"
          >{{ k ? ', ' : '' }}{{ words(line.site) }}
          <FieldToken
            :field="`lines.${k}.round_trip_ms`"
            :label="`Round trip to ${line.site}`"
            unit="ms" /></template
        ><template v-if="!place.lines.length"> nobody knows how long</template>.
        <button
          v-for="site in unmeasured(place)"
          :key="site.id"
          class="link gap"
          @click="editPlace(index)((p) => p.lines.push({ site: site.id, round_trip_ms: 50 }))"
        >
          {{ words(site.id) }} measured
        </button>
        <button
          v-if="!used.has(place.id)"
          class="link gap"
          @click="emit('edit', (p) => p.places.splice(index, 1))"
        >
          Remove it
        </button>
      </p>
    </FieldScope>
    <p><button class="link" data-testid="add-place" @click="addPlace">Another place</button></p>
    <FieldScope :of="plan.prices" path="prices" :edit="editPrices">
      <p>
        Pictures sent out cost
        <FieldToken field="egress_gib" label="Price of a GiB sent out" kind="money" /> a GiB, a
        host's address
        <FieldToken field="address_month" label="Price of an address" kind="money" /> a month;
        credits of
        <FieldToken field="credits" label="Credits" kind="money" :unit="plan.currency" /> are used
        up first.
        <template v-for="(licence, k) in plan.prices.licences" :key="licence.id">
          {{ words(licence.id) }} costs
          <FieldToken :field="`licences.${k}.monthly`" label="Price of the licence" kind="money" />
          a month per
          <FieldToken :field="`licences.${k}.per`" label="Licensed per" :options="PER" /> in
          <NamesToken :field="`licences.${k}.pools`" label="Pools that need it" none="all pools" />
          <button
            class="plain x"
            :aria-label="`No licence ${licence.id}`"
            @click="editPrices((p) => p.licences.splice(k, 1))"
          >
            clear</button
          >.
        </template>
        <button class="link" @click="addLicence">A licence</button>
      </p>
    </FieldScope>
  </section>
</template>

<style scoped>
section {
  padding: 4px 16px;
  line-height: 1.62;
}
h2 {
  font-size: 13px;
  font-weight: 650;
}
.gap {
  margin-left: 8px;
}
.x {
  color: var(--ink-quiet);
  font-size: 12px;
}
</style>
