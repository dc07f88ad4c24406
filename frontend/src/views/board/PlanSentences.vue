<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import type { Plan, Pool } from '@/api/client'
import { zones } from '@/help/hints'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { count, words } from '@/ui/format'
import { inMinutes, inSeconds } from '@/ui/timeouts'
import ValueToken from '@/ui/ValueToken.vue'

import ProfileSentence from './ProfileSentence.vue'
import PromiseSentence from './PromiseSentence.vue'

/** What stands behind the week, as sentences: hosts, sessions, promise. */
const props = defineProps<{ plan: Plan; pool: Pool }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

type Timed = 'patience_seconds' | 'idle_timeout' | 'disconnected_timeout'
const store = usePlan()
const route = useRoute()
const uses = computed(() =>
  props.plan.access
    .filter((e) => e.pool === props.pool.id)
    .map((e) => {
      const group = props.plan.groups.find((g) => g.id === e.group)
      const many = group?.demand.kind === 'headcount' ? ` (${count(group.demand.people)})` : ''
      return `${words(e.group)}${many}${e.as === 'apps' ? ' for apps' : ''}`
    }),
)
const size = computed(() => props.plan.sizes.find((s) => s.id === props.pool.size))
const disk = computed(() => props.plan.disks.find((d) => d.id === props.pool.disk))
const sizes = computed(() =>
  props.plan.sizes.map((s) => ({ value: s.id, text: `${s.vcpu} vCPU, ${s.memory_gib} GiB` })),
)

const profiles = computed(() => {
  const used = new Set(
    props.plan.access
      .filter((e) => e.pool === props.pool.id)
      .map((e) => e.profile ?? props.plan.groups.find((g) => g.id === e.group)?.profile),
  )
  return props.plan.profiles.filter((profile) => used.has(profile.id))
})
const KINDS = [
  { value: 'shared', text: 'shared' },
  { value: 'lent', text: 'lent to one person at a time' },
  { value: 'dedicated', text: 'one person each' },
]
/** A dedicated host is one person's, a shared one nobody's. */
function setKind(kind: string): void {
  void store.apply({ verb: 'set-kind', pool: props.pool.id, kind: kind as Pool['kind'] })
}

function editPool(change: (pool: Pool) => void): void {
  emit('edit', (plan) => {
    const pool = plan.pools.find((p) => p.id === props.pool.id)
    if (pool) change(pool)
  })
}
const timed = (key: Timed) => inMinutes(props.pool[key])
function setTimed(key: Timed, text: string): void {
  editPool((pool) => Object.assign(pool, { [key]: inSeconds(text) }))
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
      <ProfileSentence
        v-for="profile in profiles"
        :key="profile.id"
        :profile="profile"
        @edit="(change) => emit('edit', change)"
      />
    </section>
    <section>
      <h3>Hosts</h3>
      <p>
        <ValueToken
          label="Standing hosts"
          path="pools.hosts.standing"
          :model-value="pool.hosts.standing"
          @update:model-value="(v) => editPool((p) => (p.hosts.standing = Number(v)))"
        />
        hosts,
        <ChoiceToken
          label="Kind of pool"
          path="pools.kind"
          :options="KINDS"
          :model-value="pool.kind"
          @update:model-value="setKind"
        />, of
        <ChoiceToken
          label="Host size"
          :options="sizes"
          :model-value="pool.size"
          @update:model-value="(v) => editPool((p) => (p.size = v))"
        />
        <template v-if="size">
          at
          <ValueToken
            kind="money"
            label="Hourly price"
            path="sizes.hourly"
            :model-value="size.hourly"
            @update:model-value="
              (v) =>
                emit('edit', (plan) =>
                  plan.sizes.forEach((s) => s.id === pool.size && (s.hourly = String(v))),
                )
            "
          />
          {{ plan.currency }} an hour</template
        ><template v-if="disk">
          and {{ disk.monthly_on }} {{ plan.currency }} a month for the disk</template
        >, each with up to
        <ValueToken
          label="Session limit"
          path="pools.session_limit"
          :model-value="pool.session_limit"
          @update:model-value="(v) => editPool((p) => (p.session_limit = Number(v)))"
        />
        sessions<template v-if="pool.hosts.surge"
          >; {{ pool.hosts.surge }} surge hosts more</template
        >. A host takes
        <ValueToken
          label="Start time in seconds"
          unit="s"
          path="pools.start.mean_seconds"
          :model-value="pool.start.mean_seconds"
          @update:model-value="(v) => editPool((p) => (p.start.mean_seconds = Number(v)))"
        />
        to start (cv
        <ValueToken
          label="Variation of start times"
          path="pools.start.cv"
          :model-value="pool.start.cv"
          @update:model-value="(v) => editPool((p) => (p.start.cv = Number(v)))"
        />) and
        <ValueToken
          label="Stop time in seconds"
          unit="s"
          path="pools.stop_seconds"
          :model-value="pool.stop_seconds"
          @update:model-value="(v) => editPool((p) => (p.stop_seconds = Number(v)))"
        />
        to stop. Work is strained beyond
        <ValueToken
          label="Load limit in per cent"
          unit="%"
          :scale="100"
          path="pools.load.limit"
          :model-value="pool.load.limit"
          @update:model-value="(v) => editPool((p) => (p.load.limit = Number(v)))"
        />
        of what a host has. The schedule runs on the clock of
        <ValueToken
          kind="text"
          label="Time zone of the pool"
          list="zones"
          path="pools.time_zone"
          :allowed="zones"
          :model-value="pool.time_zone"
          @update:model-value="(v) => editPool((p) => (p.time_zone = String(v)))"
        />.
      </p>
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
    <PromiseSentence :plan="plan" :pool="pool" @edit="(change) => emit('edit', change)" />
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
h3 {
  font-size: 13px;
  font-weight: 650;
}
</style>
