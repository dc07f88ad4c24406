<script setup lang="ts">
import { computed } from 'vue'

import type { Plan, Pool } from '@/api/client'
import PlanPart from '@/plan/PlanPart.vue'
import { choicesOf } from '@/help/hints'
import { called, nameOf, type Named } from '@/plan/called'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import OptionalToken from '@/ui/OptionalToken.vue'

import type { Pools } from './usePools'

/** A pool as sentences: its kind, its hosts, how they come and go, where they are, how long. */
const props = defineProps<{ pools: Pools; plan: Plan; pool: Pool; zones: string[] }>()

const { store } = props.pools
const named = (list: Named[]) =>
  list.map((each) => ({ value: each.id, text: nameOf(each) }))
const place = computed(() => props.plan.places.find((p) => p.id === props.pool.place))
const displays = computed(() => {
  const image = props.plan.images.find((i) => i.id === props.pool.image)
  const all = new Set([
    ...(image?.display ?? []),
    ...props.plan.sites.flatMap((s) => s.display),
    ...(props.pool.display ? [props.pool.display] : []),
  ])
  return [...all].map((d) => ({ value: d, text: d }))
})
const sizes = computed(() => props.plan.sizes.map((s) => ({ value: s.id, text: nameOf(s) })))

function setKind(kind: string): void {
  const pool = props.pool.id
  void store.apply({ verb: 'set-kind', pool, kind: kind as Pool['kind'] })
}
function setPlace(id: string): void {
  void store.apply({ verb: 'move-pool', pool: props.pool.id, place: id || null })
}
function toggleZone(zone: string): void {
  store.alter(props.pools.poolAt.value, (pool) => {
    const all = pool.zones.length ? pool.zones : props.zones
    pool.zones = all.includes(zone) ? all.filter((z) => z !== zone) : [...all, zone]
  })
}
/** Which zones a pool without named ones is in is told by the server: until then none is chosen. */
const known = computed(() => props.pool.zones.length > 0 || props.zones.length > 0)
const inZone = (zone: string) =>
  (props.pool.zones.length ? props.pool.zones : props.zones).includes(zone)
/** Other pools with its schedule. */
const sharing = computed(() =>
  props.plan.pools
    .filter((each) => each.schedule === props.pool.schedule && each.id !== props.pool.id)
    .map((each) => each.id),
)
</script>

<template>
  <PlanPart :key="pool.id" :of="pools.poolAt.value">
    <div class="sentences" data-testid="pool-sentences">
      <section>
        <h3>Hosts</h3>
        <p>
          <b>{{ nameOf(pool) }}</b> is
          <ChoiceToken
            label="Kind of pool"
            path="pools.kind"
            :options="choicesOf('pools.kind')"
            :model-value="pool.kind"
            @update:model-value="setKind"
          />: <FieldToken field="hosts.standing" label="Standing hosts" /> standing
          hosts<template v-if="pool.kind !== 'dedicated'">
            and <FieldToken field="hosts.surge" label="Surge hosts" /> surge hosts</template
          >
          of <FieldToken field="size" label="Host size" :options="sizes" /><template
            v-if="pool.kind === 'shared'"
            >, up to <FieldToken field="session_limit" label="Session limit" /> sessions
            each</template
          >.
          <template v-if="pool.kind !== 'dedicated'">
            Hosts
            <FieldToken
              field="hosts.throwaway"
              label="Whether hosts keep a disk"
              no="keep their disk"
              yes="are throwaway"
            />; after its last session a host is cleaned for
            <FieldToken field="reset_seconds" label="Reset in seconds" unit="s" />.
          </template>
          Disk
          <FieldToken field="disk" label="Disk" :options="named(plan.disks)" none="none" />, image
          <FieldToken field="image" label="Image" :options="named(plan.images)" none="none" />, shown with
          <FieldToken
            field="display"
            label="Display protocol"
            :options="displays"
            none="any display protocol"
          />.
          <PlanPart
            v-for="each in pools.poolAt.value.at('apps_at_logon').rows(plan)"
            :key="each.key"
            :of="each.at"
          >
            <FieldToken field="app" label="App added at logon" kind="text" />
            is added at logon, which takes
            <FieldToken field="seconds" label="Seconds to add it" unit="s" />
            <button
              class="plain x"
              :aria-label="`No longer add ${each.value.app}`"
              @click="store.remove(each.at)"
            >
              ×</button
            >.
          </PlanPart>
          <button class="link" @click="store.apply({ verb: 'add-app', pool: pool.id })">Add an app at logon</button>
        </p>
        <h3>Where</h3>
        <p>
          In
          <ChoiceToken
            label="Place"
            path="pools.place"
            :options="[{ value: '', text: 'no place yet' }, ...named(plan.places)]"
            :model-value="pool.place ?? ''"
            @update:model-value="setPlace"
          /><template v-if="place?.zones.length">
            , over
            <label v-for="zone in place.zones" :key="zone" class="zone">
              <input
                type="checkbox"
                :checked="inZone(zone)"
                :disabled="!known"
                @change="toggleZone(zone)"
              />{{ zone }}
            </label></template
          >. It is there from
          <OptionalToken
            field="first_date"
            label="First date"
            none="the beginning"
            kind="date"
            :start="plan.week_of"
          />
          to
          <OptionalToken
            field="last_date"
            label="Last date"
            none="no end"
            kind="date"
            :start="plan.week_of"
          />.
        </p>
      </section>
      <section>
        <h3>How hosts come and go</h3>
        <p>
          They go by the schedule
          <FieldToken
            field="schedule"
            label="Schedule"
            :options="plan.schedules.map((s) => ({ value: s.id, text: nameOf(s) }))"
          /><template v-if="sharing.length">, as {{ sharing.map((id) => called('pools', id)).join(', ') }} do</template>.
          A start takes <FieldToken field="start.mean_seconds" label="Start time" unit="s" /> (cv
          <FieldToken field="start.cv" label="Variation of start times" />); after
          <FieldToken
            field="start.booted_share"
            label="Booted after this part of the start, in per cent"
            :scale="100"
            unit="%"
          />
          of it a host has booted, and it settles
          <FieldToken field="start.settle_seconds" label="Settling time" unit="s" /> after it
          takes sessions. It counts from
          <FieldToken field="start.counts_from" label="Counts from" />. At once
          <OptionalToken
            field="start.parallel"
            label="Hosts that start at once"
            none="any number of hosts"
            unit="hosts"
            :start="10"
          />
          may start;
          <FieldToken
            field="start.failure_share"
            label="Starts that fail, in per cent"
            :scale="100"
            unit="%"
          />
          of starts fail. A stop takes
          <FieldToken field="stop_seconds" label="Stop time" unit="s" />.
          <template v-if="pool.hosts.surge || pool.hosts.throwaway">
            A host is created in
            <FieldToken field="create.mean_seconds" label="Creation time" unit="s" /> (cv
            <FieldToken field="create.cv" label="Variation of creation times" />), and its script
            runs <FieldToken field="create.script_seconds" label="Script time" unit="s" />.
          </template>
          <template v-if="pool.hosts.surge && !pool.hosts.throwaway">
            A surge host that is let go stays off for
            <FieldToken
              field="hosts.surge_stays_minutes"
              label="Minutes that a surge host stays off"
              unit="min"
            />
            before it is removed.
          </template>
        </p>
        <h3>When it is strained</h3>
        <p>
          Beyond
          <FieldToken field="load.limit" label="Load limit in per cent" :scale="100" unit="%" /> of
          what a host has, CPU for more than
          <FieldToken field="load.tolerance" label="Tolerance in per cent" :scale="100" unit="%" />
          of the time. Without sessions it draws
          <FieldToken field="load.base_vcpu" label="CPU without sessions" unit="vCPU" /> and
          <FieldToken field="load.base_gib" label="Memory without sessions" unit="GiB" />. A desktop
          and an app of one person are
          <FieldToken field="desktop_and_apps" label="Desktop and app together" />.
        </p>
      </section>
    </div>
  </PlanPart>
</template>

<style scoped>
.sentences {
  columns: 2;
  column-gap: 32px;
  line-height: 1.62;
}
section {
  break-inside: avoid;
}
p + h3 {
  margin-top: 6px;
}
.zone {
  white-space: nowrap;
  margin-right: 8px;
}
.x {
  color: var(--ink-quiet);
}
</style>
