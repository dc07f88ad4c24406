<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import type { Plan, Pool } from '@/api/client'
import { choicesOf } from '@/help/hints'
import { useZones } from '@/help/zones'
import { called } from '@/plan/called'
import { useFacts } from '@/plan/facts'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { count, currencySign, money } from '@/ui/format'
import { inMinutes, inSeconds } from '@/ui/timeouts'
import ValueToken from '@/ui/ValueToken.vue'

import ProfileSentence from './ProfileSentence.vue'
import PromiseSentence from './PromiseSentence.vue'

/** What stands behind the week, as sentences: hosts, sessions, promise. */
const props = defineProps<{ plan: Plan; pool: Pool }>()

type Timed = 'patience_seconds' | 'idle_timeout' | 'disconnected_timeout'
const zones = useZones()
const store = usePlan()
const route = useRoute()
const uses = computed(() =>
  props.plan.access
    .filter((e) => e.pool === props.pool.id)
    .map((e) => {
      const group = props.plan.groups.find((g) => g.id === e.group)
      const many = group?.demand.kind === 'headcount' ? ` (${count(group.demand.people)})` : ''
      return `${called('groups', e.group)}${many}${e.as === 'apps' ? ' for apps' : ''}`
    }),
)
const size = computed(() => props.plan.sizes.find((s) => s.id === props.pool.size))
const disk = computed(() => props.plan.disks.find((d) => d.id === props.pool.disk))
const sizes = computed(() =>
  props.plan.sizes.map((s) => ({ value: s.id, text: `${s.vcpu} vCPU, ${s.memory_gib} GiB` })),
)

const facts = useFacts()
const profiles = computed(() => {
  const used = facts.pools[props.pool.id]?.profiles ?? {}
  return props.plan.profiles.filter((profile) => profile.id in used)
})
const KINDS = { lent: 'lent to one person at a time', dedicated: 'one person each' }
const poolAt = computed(() => PLAN.at('pools').item(props.pool.id))
/** A dedicated host is one person's, a shared one nobody's. */
function setKind(kind: string): void {
  void store.apply({ verb: 'set-kind', pool: props.pool.id, kind: kind as Pool['kind'] })
}

const timed = (key: Timed) => inMinutes(props.pool[key])
function setTimed(key: Timed, text: string): void {
  store.set(poolAt.value.at(key), inSeconds(text))
}
</script>

<template>
  <div class="sentences" data-testid="sentences">
    <datalist id="zones"><option v-for="zone in zones" :key="zone" :value="zone" /></datalist>
    <datalist id="never"><option value="never" /></datalist>
    <section>
      <h3>People</h3>
      <p>
        <template v-for="(use, k) in uses" :key="k">{{ k ? ', ' : '' }}{{ use }}</template
        >{{ uses.length ? '.' : 'Nobody may open this pool.' }}
        <RouterLink :to="{ name: 'people', params: { id: store.id }, query: route.query }">
          Who they are and when they come
        </RouterLink>
      </p>
      <ProfileSentence v-for="profile in profiles" :key="profile.id" :profile="profile" />
    </section>
    <section>
      <h3>Hosts</h3>
      <PlanPart :of="poolAt">
        <p>
          <FieldToken field="hosts.standing" label="Standing hosts" />
          hosts,
          <ChoiceToken
            label="Kind of pool"
            path="pools.kind"
            :options="choicesOf('pools.kind', KINDS)"
            :model-value="pool.kind"
            @update:model-value="setKind"
          />, of
          <FieldToken field="size" label="Host size" :options="sizes" />
          <template v-if="size">
            at {{ currencySign(plan.currency)
            }}<PlanPart :of="PLAN.at('sizes').item(pool.size)">
              <FieldToken field="hourly" label="Hourly price" kind="money" />
            </PlanPart>
            an hour</template
          ><template v-if="disk">
            and {{ money(disk.monthly_on, plan.currency, 2) }} a month for the disk</template
          >, each with up to
          <FieldToken field="session_limit" label="Session limit" />
          sessions<template v-if="pool.hosts.surge"
            >; {{ pool.hosts.surge }} surge hosts more</template
          >. A host takes
          <FieldToken field="start.mean_seconds" label="Start time" unit="s" />
          to start (cv
          <FieldToken field="start.cv" label="Variation of start times" />) and
          <FieldToken field="stop_seconds" label="Stop time" unit="s" />
          to stop. Work is strained beyond
          <FieldToken field="load.limit" label="Load limit in per cent" unit="%" :scale="100" />
          of what a host has. The schedule runs on the clock of
          <FieldToken
            field="time_zone"
            label="Time zone of the pool"
            kind="text"
            list="zones"
            :allowed="zones"
          />.
        </p>
      </PlanPart>
    </section>
    <section>
      <h3>Sessions</h3>
      <p>
        People wait
        <ValueToken
          kind="timeout"
          label="Patience in minutes"
          unit="min"
          list="never"
          path="pools.patience_seconds"
          :model-value="timed('patience_seconds')"
          @update:model-value="(v) => setTimed('patience_seconds', String(v))"
        />
        before they give up. An idle session is disconnected after
        <ValueToken
          kind="timeout"
          label="Idle timeout in minutes"
          unit="min"
          list="never"
          path="pools.idle_timeout"
          :model-value="timed('idle_timeout')"
          @update:model-value="(v) => setTimed('idle_timeout', String(v))"
        />, a disconnected one signed off after
        <ValueToken
          kind="timeout"
          label="Disconnected timeout in minutes"
          unit="min"
          list="never"
          path="pools.disconnected_timeout"
          :model-value="timed('disconnected_timeout')"
          @update:model-value="(v) => setTimed('disconnected_timeout', String(v))"
        />.
      </p>
    </section>
    <PromiseSentence :plan="plan" :pool="pool" :owed="facts.pools[pool.id]?.promise ?? null" />
  </div>
</template>

<style scoped>
.sentences {
  columns: 2;
  column-gap: 32px;
  font-size: 13.5px;
  line-height: 1.62;
  padding: 4px 0 8px;
}
section {
  break-inside: avoid;
  padding-bottom: 6px;
}
</style>
