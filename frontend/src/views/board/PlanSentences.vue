<script setup lang="ts">
import { computed } from 'vue'

import type { Group, Headcount, Plan, Pool } from '@/api/client'
import { zones } from '@/help/hints'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { WEEKDAYS, WEEKDAY_IDS, words } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

/** What stands behind the week, as sentences: people, hosts, sessions, promise. */
const props = defineProps<{ plan: Plan; pool: Pool }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

type Timed = 'patience_seconds' | 'idle_timeout' | 'disconnected_timeout'
const groups = computed(() =>
  props.plan.groups.filter((group) =>
    props.plan.entitlements.some((e) => e.group === group.id && e.pool === props.pool.id),
  ),
)
const size = computed(() => props.plan.sizes.find((s) => s.id === props.pool.size))
const disk = computed(() => props.plan.disks.find((d) => d.id === props.pool.disk))
const sizes = computed(() =>
  props.plan.sizes.map((s) => ({ value: s.id, text: `${s.vcpu} vCPU, ${s.memory_gib} GiB` })),
)
const PATTERN = 'groups.demand.headcount.patterns'
const VISITS = [
  { value: 'exponential', text: 'exponential' },
  { value: 'lognormal', text: 'lognormal' },
  { value: 'fixed', text: 'fixed' },
] as const

function headcount(group: Group): Headcount | null {
  return group.demand.kind === 'headcount' ? (group.demand as Headcount) : null
}
function editPool(change: (pool: Pool) => void): void {
  emit('edit', (plan) => {
    const pool = plan.pools.find((p) => p.id === props.pool.id)
    if (pool) change(pool)
  })
}
function editGroup(id: string, change: (group: Group) => void): void {
  emit('edit', (plan) => {
    const group = plan.groups.find((g) => g.id === id)
    if (group) change(group)
  })
}
function editPattern(id: string, change: (pattern: Headcount['patterns'][number]) => void): void {
  editGroup(id, (group) => {
    const pattern = headcount(group)?.patterns[0]
    if (pattern) change(pattern)
  })
}
function siteOf(group: Group): string {
  return props.plan.sites.find((s) => s.id === group.site)?.time_zone ?? ''
}
function weekdays(group: Group): { id: (typeof WEEKDAY_IDS)[number]; name: string; share: number }[] {
  const attendance = headcount(group)?.patterns[0]?.attendance ?? {}
  return WEEKDAY_IDS.map((id, k) => ({ id, name: WEEKDAYS[k] ?? id, share: attendance[id] ?? 0 }))
}
function profilesOf(group: Group) {
  return props.plan.profiles.filter((p) => p.id === group.profile)
}
function editProfile(group: Group, change: (p: Plan['profiles'][number]) => void): void {
  emit('edit', (plan) => {
    const profile = plan.profiles.find((p) => p.id === group.profile)
    if (profile) change(profile)
  })
}
const timed = (key: Timed) => (props.pool[key] === 'never' ? 'never' : String(Number(props.pool[key]) / 60))
function setTimed(key: Timed, text: string): void {
  const minutes = Number(text)
  if (text === 'never') editPool((pool) => Object.assign(pool, { [key]: 'never' }))
  else if (Number.isFinite(minutes) && minutes >= 0) {
    editPool((pool) => Object.assign(pool, { [key]: Math.round(minutes * 60) }))
  }
}
function setLeaving(id: string, key: 'sign_off' | 'disconnect' | 'walk_away', value: number): void {
  editPattern(id, ({ leaving }) => {
    const others = (['sign_off', 'disconnect', 'walk_away'] as const).filter((k) => k !== key)
    const rest = others.reduce((sum, k) => sum + leaving[k], 0)
    leaving[key] = value
    const left = 1 - value
    for (const other of others) {
      const part = rest > 0 ? leaving[other] / rest : 0.5
      leaving[other] = Math.round(left * part * 1e6) / 1e6
    }
  })
}
</script>

<template>
  <div class="sentences" data-testid="sentences">
    <datalist id="zones"><option v-for="zone in zones" :key="zone" :value="zone" /></datalist>
    <datalist id="never"><option value="never" /></datalist>
    <section v-for="group in groups" :key="group.id">
      <h3>{{ words(group.id) }}</h3>
      <template v-if="headcount(group)">
        <p v-for="pattern in headcount(group)?.patterns.slice(0, 1)" :key="pattern.id">
          <ValueToken
            label="People"
            path="groups.demand.headcount.people"
            :model-value="headcount(group)?.people ?? 0"
            @update:model-value="
              (v) => editGroup(group.id, (g) => Object.assign(g.demand, { people: Math.round(Number(v)) }))
            "
          />
          people on the clock of {{ siteOf(group) }} start at
          <ValueToken
            kind="clock" label="Start" :path="`${PATTERN}.start.mean`"
            :model-value="pattern.start.mean"
            @update:model-value="(v) => editPattern(group.id, (p) => (p.start.mean = String(v)))"
          />
          give or take
          <ValueToken
            label="Scatter of starts in minutes" unit="min" :path="`${PATTERN}.start.sd_minutes`"
            :model-value="pattern.start.sd_minutes"
            @update:model-value="(v) => editPattern(group.id, (p) => (p.start.sd_minutes = Number(v)))"
          />
          and stay
          <ValueToken
            label="Length of the day in hours" unit="h" :scale="1 / 60" :path="`${PATTERN}.length.mean_minutes`"
            :model-value="pattern.length.mean_minutes"
            @update:model-value="(v) => editPattern(group.id, (p) => (p.length.mean_minutes = Number(v)))"
          />
          give or take
          <ValueToken
            label="Scatter of lengths in minutes" unit="min" :path="`${PATTERN}.length.sd_minutes`"
            :model-value="pattern.length.sd_minutes"
            @update:model-value="(v) => editPattern(group.id, (p) => (p.length.sd_minutes = Number(v)))"
          />. They come
          <template v-for="day in weekdays(group)" :key="day.id">
            {{ day.name }}
            <ValueToken
              :label="`Attendance on ${day.name} in per cent`" unit="%" :scale="100" :path="`${PATTERN}.share`"
              :model-value="day.share"
              @update:model-value="(v) => editPattern(group.id, (p) => (p.attendance[day.id] = Number(v)))"
            />{{ ' ' }}
          </template>
          and leave by signing off
          <ValueToken
            label="Sign off in per cent" unit="%" :scale="100" :path="`${PATTERN}.share`"
            :model-value="pattern.leaving.sign_off"
            @update:model-value="(v) => setLeaving(group.id, 'sign_off', Number(v))"
          />, disconnecting
          <ValueToken
            label="Disconnect in per cent" unit="%" :scale="100" :path="`${PATTERN}.share`"
            :model-value="pattern.leaving.disconnect"
            @update:model-value="(v) => setLeaving(group.id, 'disconnect', Number(v))"
          />
          or walking away
          <ValueToken
            label="Walk away in per cent" unit="%" :scale="100" :path="`${PATTERN}.share`"
            :model-value="pattern.leaving.walk_away"
            @update:model-value="(v) => setLeaving(group.id, 'walk_away', Number(v))"
          />.
        </p>
      </template>
      <p v-else-if="group.demand.kind === 'drop-in'">
        People drop in by the hour on the clock of {{ siteOf(group) }}; a visit lasts
        <ValueToken
          label="Visit in minutes" unit="min" path="groups.demand.drop-in.session.mean_minutes"
          :model-value="group.demand.session.mean_minutes"
          @update:model-value="
            (v) => editGroup(group.id, (g) => g.demand.kind === 'drop-in' && (g.demand.session.mean_minutes = Number(v)))
          "
        />,
        <ChoiceToken
          label="Distribution of visits" :options="VISITS" :model-value="group.demand.session.kind"
          @update:model-value="
            (v) => editGroup(group.id, (g) => g.demand.kind === 'drop-in' && Object.assign(g.demand.session, { kind: v }))
          "
        />.
      </p>
      <p v-for="profile in profilesOf(group)" :key="profile.id">
          A session wants
          <ValueToken
            label="CPU of an active session" unit="vCPU" path="profiles.cpu.mean" :model-value="profile.cpu.mean"
            @update:model-value="(v) => editProfile(group, (p) => (p.cpu.mean = Number(v)))"
          />
          give or take
          <ValueToken
            label="Spread of CPU" path="profiles.cpu.sd" :model-value="profile.cpu.sd"
            @update:model-value="(v) => editProfile(group, (p) => (p.cpu.sd = Number(v)))"
          />
          and
          <ValueToken
            label="Memory of an active session" unit="GiB" path="profiles.memory_gib.active"
            :model-value="profile.memory_gib.active"
            @update:model-value="(v) => editProfile(group, (p) => (p.memory_gib.active = Number(v)))"
          />; its logon takes
          <ValueToken
            label="Logon in seconds" unit="s" path="profiles.logon.seconds" :model-value="profile.logon.seconds"
            @update:model-value="(v) => editProfile(group, (p) => (p.logon.seconds = Number(v)))"
          />
          and
          <ValueToken
            label="CPU of a logon" unit="vCPU" path="profiles.logon.vcpu" :model-value="profile.logon.vcpu"
            @update:model-value="(v) => editProfile(group, (p) => (p.logon.vcpu = Number(v)))"
          />.
      </p>
    </section>
    <section>
      <h3>Hosts</h3>
      <p>
        <ValueToken
          label="Standing hosts" path="pools.hosts.standing" :model-value="pool.hosts.standing"
          @update:model-value="(v) => editPool((p) => (p.hosts.standing = Math.round(Number(v))))"
        />
        hosts of
        <ChoiceToken
          label="Host size" :options="sizes" :model-value="pool.size"
          @update:model-value="(v) => editPool((p) => (p.size = v))"
        />
        <template v-if="size">
          at
          <ValueToken
            kind="money" label="Hourly price" path="sizes.hourly" :model-value="size.hourly"
            @update:model-value="
              (v) => emit('edit', (plan) => plan.sizes.forEach((s) => s.id === pool.size && (s.hourly = String(v))))
            "
          />
          {{ plan.currency }} an hour</template
        ><template v-if="disk"> and {{ disk.monthly_on }} {{ plan.currency }} a month for the disk</template
        >, each with up to
        <ValueToken
          label="Session limit" path="pools.session_limit" :model-value="pool.session_limit"
          @update:model-value="(v) => editPool((p) => (p.session_limit = Math.round(Number(v))))"
        />
        sessions. A host takes
        <ValueToken
          label="Start time in seconds" unit="s" path="pools.start.mean_seconds" :model-value="pool.start.mean_seconds"
          @update:model-value="(v) => editPool((p) => (p.start.mean_seconds = Number(v)))"
        />
        to start (cv
        <ValueToken
          label="Variation of start times" path="pools.start.cv" :model-value="pool.start.cv"
          @update:model-value="(v) => editPool((p) => (p.start.cv = Number(v)))"
        />) and
        <ValueToken
          label="Stop time in seconds" unit="s" path="pools.stop_seconds" :model-value="pool.stop_seconds"
          @update:model-value="(v) => editPool((p) => (p.stop_seconds = Math.round(Number(v))))"
        />
        to stop. Work is strained beyond
        <ValueToken
          label="Load limit in per cent" unit="%" :scale="100" path="pools.load.limit" :model-value="pool.load.limit"
          @update:model-value="(v) => editPool((p) => (p.load.limit = Number(v)))"
        />
        of CPU or memory.
      </p>
      <h3>Sessions</h3>
      <p>
        People wait
        <ValueToken
          kind="text" label="Patience in minutes" unit="min" list="never" path="pools.patience_seconds"
          :model-value="timed('patience_seconds')"
          @update:model-value="(v) => setTimed('patience_seconds', String(v))"
        />
        before they give up. An idle session is disconnected after
        <ValueToken
          kind="text" label="Idle timeout in minutes" unit="min" list="never" path="pools.idle_timeout"
          :model-value="timed('idle_timeout')"
          @update:model-value="(v) => setTimed('idle_timeout', String(v))"
        />, a disconnected one signed off after
        <ValueToken
          kind="text" label="Disconnected timeout in minutes" unit="min" list="never" path="pools.disconnected_timeout"
          :model-value="timed('disconnected_timeout')"
          @update:model-value="(v) => setTimed('disconnected_timeout', String(v))"
        />.
      </p>
      <h3>The promise</h3>
      <p>
        19 of 20 logons within
        <ValueToken
          label="Promised wait in seconds" unit="s" path="promise.wait_p95_seconds" :model-value="plan.promise.wait_p95_seconds"
          @update:model-value="(v) => emit('edit', (p) => (p.promise.wait_p95_seconds = Math.round(Number(v))))"
        />, at most
        <ValueToken
          label="Promised refusals in per cent" unit="%" :scale="100" path="promise.refused_share" :model-value="plan.promise.refused_share"
          @update:model-value="(v) => emit('edit', (p) => (p.promise.refused_share = Number(v)))"
        />
        refused and
        <ValueToken
          label="Promised strain in per cent" unit="%" :scale="100" path="promise.strained_share" :model-value="plan.promise.strained_share"
          @update:model-value="(v) => emit('edit', (p) => (p.promise.strained_share = Number(v)))"
        />
        of working time strained.
      </p>
    </section>
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
}
h3 {
  font-size: 13px;
  font-weight: 650;
}
p + h3 {
  margin-top: 6px;
}
</style>
