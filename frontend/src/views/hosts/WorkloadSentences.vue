<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'

import { api, type Edit, type Plan, type Problem, type Profile } from '@/api/client'
import { sent } from '@/ask/send'
import NameToken from '@/parts/NameToken.vue'
import { copyPart } from '@/parts/parts'
import { called, nameOf } from '@/plan/called'
import { useFacts } from '@/plan/facts'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import FileToken from '@/ui/FileToken.vue'
import { counted } from '@/ui/format'
import { freeId } from '@/ui/ids'
import ProblemNote from '@/ui/ProblemNote.vue'

import type { Hosts } from './useHosts'

/** What a session draws and what the image does to it, as sentences. */
const props = defineProps<{ hosts: Hosts; plan: Plan }>()
const problem = shallowRef<Problem | null>(null)
const said = ref('')
const { store } = props.hosts
const PICTURES = {
  lean: 'a lean picture',
  standard: 'a standard picture',
  fine: 'a fine picture',
}
type UserClass = Extract<Edit, { verb: 'set-class' }>['user']
const CLASSES = [
  { value: 'light', text: 'light users' },
  { value: 'normal', text: 'normal users' },
  { value: 'heavy', text: 'heavy users' },
]
/** Own values are what stands there, and nothing that could be chosen. */
const OWN = { value: 'own', text: 'no class' }
const classesFor = ({ id }: Profile) => (facts.classOf(id) ? CLASSES : [OWN, ...CLASSES])
function fill(profile: string, user: string): void {
  if (user !== OWN.value) void store.apply({ verb: 'set-class', profile, user: user as UserClass })
}
const facts = useFacts()
const used = computed(() => {
  const pool = facts.pools[props.hosts.pool.value?.id ?? '']
  const group = props.hosts.group.value
  const ids = Object.entries(pool?.profiles ?? {}).flatMap(([id, groups]) => (!group || groups.includes(group) ? [id] : []))
  return PLAN.at('profiles')
    .rows(props.plan)
    .filter(({ value }) => ids.includes(value.id))
})
const imageAt = computed(() => PLAN.at('images').item(props.hosts.pool.value?.image ?? ''))
const image = computed(() => imageAt.value.read(props.plan))
const users = (profile: string) =>
  props.plan.groups.filter((g) => g.profile === profile).map((g) => nameOf(g))

/** A workload like another, for whoever is given it on the People view. */
async function another(like: Profile): Promise<void> {
  const id = await copyPart('profile', like)
  if (id) said.value = `${called('profiles', id)} can be given to groups on the People view`
}
async function take(like: string, file: File): Promise<void> {
  const still = store.here()
  const text = await file.text()
  const id = freeId(
    `${like}-measured`,
    props.plan.profiles.map((p) => p.id),
  )
  const source = file.name.slice(0, 120)
  const found = await store.change((plan) =>
    api.POST('/api/hosts/samples', sent({ plan, like, new: id, source, text })),
  )
  if (!still()) return
  problem.value = found.problem
  const made = store.plan?.profiles.find((each) => each.id === id)
  if (!found.done || !made) return
  said.value = `${file.name}: ${made.measured?.sessions ?? 0} sessions measured; ${called('profiles', like)} is now ${made.cpu.mean} vCPU ± ${((made.measured?.cpu_error ?? 0) * 2).toFixed(3)} and ${made.memory_gib.active} GiB`
}
</script>

<template>
  <section data-testid="workload">
    <h2>What a session draws</h2>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="said" role="status" class="said">{{ said }}</p>
    <PlanPart v-for="{ value: profile, key, at } in used" :key="key" :of="at">
      <p>
        <NameToken what="profile" :part="profile" />{{ ' ' }}
        <span class="quiet">({{ users(profile.id).join(', ') }})</span>, as of
        <ChoiceToken
          label="Class of users"
          :model-value="facts.classOf(profile.id) || 'own'"
          :options="classesFor(profile)"
          @update:model-value="(user) => fill(profile.id, user)"
        />: active
        <FieldToken field="cpu.mean" label="CPU of an active session" unit="vCPU" /> ±
        <FieldToken field="cpu.sd" label="Spread of CPU" />, idle
        <FieldToken field="cpu.idle" label="CPU of an idle session" />; memory
        <FieldToken field="memory_gib.active" label="Memory of an active session" unit="GiB" />, idle
        <FieldToken field="memory_gib.idle" label="Memory of an idle session" />, disconnected
        <FieldToken field="memory_gib.disconnected" label="Memory of a disconnected session" />;
        <FieldToken field="disk_ops" label="Disk operations a second" unit="disk operations/s" />,
        <FieldToken field="gpu_gib" label="GPU memory" unit="GiB of GPU" />; a logon
        <FieldToken field="logon.seconds" label="Logon time" unit="s" /> at
        <FieldToken field="logon.vcpu" label="CPU of a logon" unit="vCPU" />. Shows on
        <FieldToken field="display.monitors" label="Monitors" unit="×" />
        <FieldToken field="display.megapixels" label="Megapixels of a monitor" unit="megapixels" />
        in <FieldToken field="display.quality" label="Picture quality" :called="PICTURES" /> of
        <FieldToken
          :field="`display.mbit.${profile.display.quality}`"
          label="Network for each megapixel"
          unit="Mbit/s"
        />
        a megapixel on average,
        <FieldToken
          field="display.busy_minute"
          label="How many times as much in the busiest minute"
          unit="times"
        />
        that in the busiest minute; showing it costs
        <FieldToken field="display.vcpu_per_mbit" label="CPU for each Mbit/s" unit="vCPU" /> for
        each Mbit/s.
        <template v-if="profile.measured">
          Measured from {{ counted(profile.measured.sessions, 'session') }} ({{
            profile.measured.source
          }}): CPU ± {{ (profile.measured.cpu_error * 2).toFixed(3) }}, memory ±
          {{ (profile.measured.memory_error * 2).toFixed(2) }}.</template
        ><template v-else>
          {{ facts.classOf(profile.id) ? `These are assumed values of ${facts.classOf(profile.id)} users: nobody` : 'Nobody' }} has
          measured it.</template
        >
        {{ ' ' }}
        <FileToken accept=".csv,text/csv" data-testid="samples" @file="(f) => take(profile.id, f)"
          >Measure from samples (CSV: session, time, cpu_vcpu, memory_gib, state,
          network_mbit)</FileToken
        >{{ ' ' }}
        <button class="link" @click="another(profile)">Another like it</button>
      </p>
    </PlanPart>
    <PlanPart v-if="image" :of="imageAt">
      <p data-testid="image">
        The image <NameToken what="image" :part="image" /> has
        <FieldToken field="gib" label="Size of the image" unit="GiB" />; its system holds
        <FieldToken field="system" label="What the system holds" />. Tuning leaves
        <FieldToken
          field="tuning.cpu"
          label="CPU left by tuning, in per cent"
          :scale="100"
          unit="%"
        />
        of the CPU and
        <FieldToken
          field="tuning.memory"
          label="Memory left by tuning, in per cent"
          :scale="100"
          unit="%"
        />
        of a host's own memory<template
          v-if="hosts.size.value && hosts.size.value.untuned !== hosts.size.value.sessions"
          >: a host bears {{ hosts.size.value.sessions }} sessions in place of
          {{ hosts.size.value.untuned }}</template
        >.
      </p>
    </PlanPart>
  </section>
</template>

<style scoped>
section {
  padding: 4px 16px;
  line-height: 1.62;
}
.said {
  padding: 2px 8px;
  background: var(--lichen-wash);
}
</style>
