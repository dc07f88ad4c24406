<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import NameToken from '@/parts/NameToken.vue'
import PartActs from '@/parts/PartActs.vue'
import { addPart } from '@/parts/parts'
import { called, nameOf } from '@/plan/called'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import FieldToken from '@/ui/FieldToken.vue'
import NamesToken from '@/ui/NamesToken.vue'
import OptionalToken from '@/ui/OptionalToken.vue'

/** Places as sentences: their area, zones, lines to the sites; and what else a month costs. */
const props = defineProps<{ plan: Plan }>()
const store = usePlan()
const places = computed(() => PLAN.at('places').rows(props.plan))
const PRICES = PLAN.at('prices')
const licences = computed(() => PRICES.at('licences').rows(props.plan))
type Place = Plan['places'][number]

const unmeasured = (place: Place) =>
  props.plan.sites.filter((site) => !place.lines.some((line) => line.site === site.id))
const PER = { 'peak session': 'session at the peak', 'active person': 'person seen' }
</script>

<template>
  <section data-testid="place-sentences">
    <h2>Places and other prices</h2>
    <PlanPart v-for="{ value: place, key, at } in places" :key="key" :of="at">
      <p>
        <NameToken what="place" :part="place" /> is in
        <FieldToken field="area" label="Legal area" kind="text" />, with zones
        <NamesToken field="zones" :label="`Zones of ${nameOf(place)}`" none="none" />. A round trip takes
        <PlanPart
          v-for="(line, k) in at.at('lines').rows(plan)"
          :key="line.key"
          :of="line.at"
          >{{ k ? ', ' : '' }}{{ called('sites', line.value.site) }}
          <FieldToken
            field="round_trip_ms"
            :label="`Round trip to ${called('sites', line.value.site)}`"
            unit="ms" /></PlanPart
        ><template v-if="!place.lines.length"> nobody knows how long</template>. All
        pools here together start
        <OptionalToken
          field="starts_at_once"
          :label="`Starts at once in ${nameOf(place)}`"
          none="any number of hosts"
          unit="hosts"
          :start="10"
        />
        at once.
        <button
          v-for="site in unmeasured(place)"
          :key="site.id"
          class="link gap"
          @click="store.apply({ verb: 'add-line', place: place.id, site: site.id })"
        >
          Give the line to {{ nameOf(site) }}
        </button>
        <PartActs class="gap" what="place" :part="place" />
      </p>
    </PlanPart>
    <p><button class="link" data-testid="add-place" @click="addPart('place', 'New place')">Add a place</button></p>
    <PlanPart :of="PRICES">
      <p>
        Pictures sent out cost
        <FieldToken field="egress_gib" label="Price of a GiB sent out" kind="money" /> a GiB, a
        host's address
        <FieldToken field="address_month" label="Price of an address" kind="money" /> a month;
        credits of
        <FieldToken field="credits" label="Credits" kind="money" :unit="plan.currency" /> are used
        up first.
        <PlanPart v-for="{ value: licence, key, at } in licences" :key="key" :of="at">
          <NameToken what="licence" :part="licence" /> costs
          <FieldToken field="monthly" label="Price of the licence" kind="money" />
          a month per <FieldToken field="per" label="Licensed per" :called="PER" /> in
          <NamesToken field="pools" label="Pools that need it" none="all pools" />
          <PartActs what="licence" :part="licence" />.
        </PlanPart>
        <button class="link" @click="addPart('licence', 'New licence')">Add a licence</button>
      </p>
    </PlanPart>
  </section>
</template>

<style scoped>
section {
  padding: 4px 16px;
  line-height: 1.62;
}
.gap {
  margin-left: 8px;
}
.x {
  color: var(--ink-quiet);
  font-size: 12px;
}
</style>
