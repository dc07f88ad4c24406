<script setup lang="ts">
import { computed } from 'vue'

import type { Group, Headcount, Plan } from '@/api/client'
import { zones } from '@/help/hints'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { WEEKDAYS, WEEKDAY_IDS, words } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

/** One group in sentences: who comes, when, how they leave, and what a session of theirs wants. */
const props = defineProps<{ plan: Plan; group: Group }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

type Pattern = Headcount['patterns'][number]
type Profile = Plan['profiles'][number]

const PATTERN = 'groups.demand.headcount.patterns'
const WAYS = ['sign_off', 'disconnect', 'walk_away'] as const
const VISITS = [
  { value: 'exponential', text: 'exponential' },
  { value: 'lognormal', text: 'lognormal' },
  { value: 'fixed', text: 'fixed' },
] as const

const people = computed(() => headcount(props.group))
const zone = computed(
  () => props.plan.sites.find((s) => s.id === props.group.site)?.time_zone ?? '',
)
const profiles = computed(() => props.plan.profiles.filter((p) => p.id === props.group.profile))

function setZone(name: string): void {
  emit('edit', (plan) => {
    const site = plan.sites.find((s) => s.id === props.group.site)
    if (site) site.time_zone = name
  })
}
function headcount(group: Group): Headcount | null {
  return group.demand.kind === 'headcount' ? (group.demand as Headcount) : null
}
function weekdays(pattern: Pattern) {
  return WEEKDAY_IDS.map((id, k) => ({
    id,
    name: WEEKDAYS[k] ?? id,
    share: pattern.attendance[id] ?? 0,
  }))
}
function editGroup(change: (group: Group) => void): void {
  emit('edit', (plan) => {
    const group = plan.groups.find((g) => g.id === props.group.id)
    if (group) change(group)
  })
}
function editPattern(change: (pattern: Pattern) => void): void {
  editGroup((group) => {
    const pattern = headcount(group)?.patterns[0]
    if (pattern) change(pattern)
  })
}
function editProfile(change: (profile: Profile) => void): void {
  emit('edit', (plan) => {
    const profile = plan.profiles.find((p) => p.id === props.group.profile)
    if (profile) change(profile)
  })
}
function editBreak(index: number, change: Partial<Pattern['breaks'][number]>): void {
  editPattern(({ breaks }) => {
    const pause = breaks[index]
    if (pause) Object.assign(pause, change)
  })
}
function dropBreak(index: number): void {
  editPattern(({ breaks }) => breaks.splice(index, 1))
}
function addBreak(): void {
  editPattern(({ breaks }) =>
    breaks.push({
      probability: 0.8,
      at: '12:30',
      sd_minutes: 15,
      mean_minutes: 45,
      length_sd_minutes: 10,
      leaving: { sign_off: 0, disconnect: 0.3, walk_away: 0.7 },
    }),
  )
}
/** Set one way of leaving; the others share what is left as they did before. */
function setLeaving(key: (typeof WAYS)[number], value: number): void {
  editPattern(({ leaving }) => {
    const others = WAYS.filter((way) => way !== key)
    const rest = others.reduce((sum, way) => sum + leaving[way], 0)
    leaving[key] = value
    for (const way of others) {
      const part = rest > 0 ? leaving[way] / rest : 0.5
      leaving[way] = Math.round((1 - value) * part * 1e6) / 1e6
    }
  })
}
</script>

<template>
  <section>
    <h3>{{ words(group.id) }}</h3>
    <template v-if="people">
      <p v-for="pattern in people.patterns.slice(0, 1)" :key="pattern.id">
        <ValueToken
          label="People"
          path="groups.demand.headcount.people"
          :model-value="people.people"
          @update:model-value="
            (v) => editGroup((g) => Object.assign(g.demand, { people: Math.round(Number(v)) }))
          "
        />
        people on the clock of
        <ValueToken
          kind="text"
          label="Time zone of these people"
          list="zones"
          path="sites.time_zone"
          :allowed="zones"
          :model-value="zone"
          @update:model-value="(v) => setZone(String(v))"
        />
        start at
        <ValueToken
          kind="clock"
          label="Start"
          :path="`${PATTERN}.start.mean`"
          :model-value="pattern.start.mean"
          @update:model-value="(v) => editPattern((p) => (p.start.mean = String(v)))"
        />
        give or take
        <ValueToken
          label="Scatter of starts in minutes"
          unit="min"
          :path="`${PATTERN}.start.sd_minutes`"
          :model-value="pattern.start.sd_minutes"
          @update:model-value="(v) => editPattern((p) => (p.start.sd_minutes = Number(v)))"
        />
        and stay
        <ValueToken
          label="Length of the day in hours"
          unit="h"
          :scale="1 / 60"
          :path="`${PATTERN}.length.mean_minutes`"
          :model-value="pattern.length.mean_minutes"
          @update:model-value="(v) => editPattern((p) => (p.length.mean_minutes = Number(v)))"
        />
        give or take
        <ValueToken
          label="Scatter of lengths in minutes"
          unit="min"
          :path="`${PATTERN}.length.sd_minutes`"
          :model-value="pattern.length.sd_minutes"
          @update:model-value="(v) => editPattern((p) => (p.length.sd_minutes = Number(v)))"
        />. They come
        <template v-for="day in weekdays(pattern)" :key="day.id">
          {{ day.name }}
          <ValueToken
            :label="`Attendance on ${day.name} in per cent`"
            unit="%"
            :scale="100"
            :path="`${PATTERN}.share`"
            :model-value="day.share"
            @update:model-value="(v) => editPattern((p) => (p.attendance[day.id] = Number(v)))"
          />{{ ' ' }}
        </template>
        and leave by signing off
        <ValueToken
          label="Sign off in per cent"
          unit="%"
          :scale="100"
          :path="`${PATTERN}.share`"
          :model-value="pattern.leaving.sign_off"
          @update:model-value="(v) => setLeaving('sign_off', Number(v))"
        />, disconnecting
        <ValueToken
          label="Disconnect in per cent"
          unit="%"
          :scale="100"
          :path="`${PATTERN}.share`"
          :model-value="pattern.leaving.disconnect"
          @update:model-value="(v) => setLeaving('disconnect', Number(v))"
        />
        or walking away
        <ValueToken
          label="Walk away in per cent"
          unit="%"
          :scale="100"
          :path="`${PATTERN}.share`"
          :model-value="pattern.leaving.walk_away"
          @update:model-value="(v) => setLeaving('walk_away', Number(v))"
        />.
        <template v-for="(pause, k) in pattern.breaks" :key="k">
          <ValueToken
            label="Share of people who take the break, in per cent"
            unit="%"
            :scale="100"
            :path="`${PATTERN}.breaks.probability`"
            :model-value="pause.probability"
            @update:model-value="(v) => editBreak(k, { probability: Number(v) })"
          />
          pause at
          <ValueToken
            kind="clock"
            label="Break begins"
            :path="`${PATTERN}.breaks.at`"
            :model-value="pause.at"
            @update:model-value="(v) => editBreak(k, { at: String(v) })"
          />
          for
          <ValueToken
            label="Break in minutes"
            unit="min"
            :path="`${PATTERN}.breaks.mean_minutes`"
            :model-value="pause.mean_minutes"
            @update:model-value="(v) => editBreak(k, { mean_minutes: Number(v) })"
          />
          <button
            class="link"
            :aria-label="`Take the break at ${pause.at} away`"
            @click="dropBreak(k)"
          >
            ✕</button
          >.
        </template>
        <button
          v-if="pattern.breaks.length === 0"
          class="link"
          data-testid="add-break"
          @click="addBreak()"
        >
          Add a break
        </button>
      </p>
    </template>
    <p v-else-if="group.demand.kind === 'drop-in'">
      People drop in by the hour on the clock of
      <ValueToken
        kind="text"
        label="Time zone of these people"
        list="zones"
        path="sites.time_zone"
        :allowed="zones"
        :model-value="zone"
        @update:model-value="(v) => setZone(String(v))"
      />; a visit lasts
      <ValueToken
        label="Visit in minutes"
        unit="min"
        path="groups.demand.drop-in.session.mean_minutes"
        :model-value="group.demand.session.mean_minutes"
        @update:model-value="
          (v) =>
            editGroup(
              (g) => g.demand.kind === 'drop-in' && (g.demand.session.mean_minutes = Number(v)),
            )
        "
      />,
      <ChoiceToken
        label="Distribution of visits"
        :options="VISITS"
        :model-value="group.demand.session.kind"
        @update:model-value="
          (v) =>
            editGroup(
              (g) => g.demand.kind === 'drop-in' && Object.assign(g.demand.session, { kind: v }),
            )
        "
      />.
    </p>
    <p v-for="profile in profiles" :key="profile.id">
      A session wants
      <ValueToken
        label="CPU of an active session"
        unit="vCPU"
        path="profiles.cpu.mean"
        :model-value="profile.cpu.mean"
        @update:model-value="(v) => editProfile((p) => (p.cpu.mean = Number(v)))"
      />
      give or take
      <ValueToken
        label="Spread of CPU"
        path="profiles.cpu.sd"
        :model-value="profile.cpu.sd"
        @update:model-value="(v) => editProfile((p) => (p.cpu.sd = Number(v)))"
      />
      (idle
      <ValueToken
        label="CPU of an idle session"
        path="profiles.cpu.idle"
        :model-value="profile.cpu.idle"
        @update:model-value="(v) => editProfile((p) => (p.cpu.idle = Number(v)))"
      />) and
      <ValueToken
        label="Memory of an active session"
        unit="GiB"
        path="profiles.memory_gib.active"
        :model-value="profile.memory_gib.active"
        @update:model-value="(v) => editProfile((p) => (p.memory_gib.active = Number(v)))"
      />; its logon takes
      <ValueToken
        label="Logon in seconds"
        unit="s"
        path="profiles.logon.seconds"
        :model-value="profile.logon.seconds"
        @update:model-value="(v) => editProfile((p) => (p.logon.seconds = Number(v)))"
      />
      and
      <ValueToken
        label="CPU of a logon"
        unit="vCPU"
        path="profiles.logon.vcpu"
        :model-value="profile.logon.vcpu"
        @update:model-value="(v) => editProfile((p) => (p.logon.vcpu = Number(v)))"
      />.
    </p>
  </section>
</template>

<style scoped>
section {
  break-inside: avoid;
}
h3 {
  font-size: 13px;
  font-weight: 650;
}
</style>
