<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import NameToken from '@/parts/NameToken.vue'
import PartActs from '@/parts/PartActs.vue'
import { addPart } from '@/parts/parts'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import FieldToken from '@/ui/FieldToken.vue'
import NamesToken from '@/ui/NamesToken.vue'

/** What a month costs besides hosts and disks: pictures sent out, addresses, licences. */
const props = defineProps<{ plan: Plan }>()
const PRICES = PLAN.at('prices')
const licences = computed(() => PRICES.at('licences').rows(props.plan))

const PER = { 'peak session': 'session at the peak', 'active person': 'person seen' }
</script>

<template>
  <section data-testid="other-prices">
    <h2>Other prices</h2>
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
</style>
