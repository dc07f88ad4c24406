<script setup lang="ts">
import { computed } from 'vue'

import type { Plan } from '@/api/client'
import PartActs from '@/parts/PartActs.vue'
import { called, nameOf } from '@/plan/called'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import FieldToken from '@/ui/FieldToken.vue'
import NamesToken from '@/ui/NamesToken.vue'
import OptionalToken from '@/ui/OptionalToken.vue'

/** A place as a sentence: its area, its zones and its lines to the sites. */
const props = defineProps<{ plan: Plan; place: Plan['places'][number] }>()
const store = usePlan()
const at = computed(() => PLAN.at('places').item(props.place.id))
const unmeasured = computed(() =>
  props.plan.sites.filter((site) => !props.place.lines.some((line) => line.site === site.id)),
)
</script>

<template>
  <PlanPart :of="at">
    <p>
      {{ nameOf(place) }} is in
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
        v-for="site in unmeasured"
        :key="site.id"
        class="link gap"
        @click="store.apply({ verb: 'add-line', place: place.id, site: site.id })"
      >
        Give the line to {{ nameOf(site) }}
      </button>
      <PartActs class="gap" what="place" :part="place" />
    </p>
  </PlanPart>
</template>

<style scoped>
.gap {
  margin-left: 8px;
}
</style>
