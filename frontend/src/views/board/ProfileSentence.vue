<script setup lang="ts">
import type { Plan } from '@/api/client'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'

/** What a session of one workload profile wants, and what its logon costs. */
type Profile = Plan['profiles'][number]
const props = defineProps<{ profile: Profile }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

function edit(change: (profile: Profile) => void): void {
  emit('edit', (plan) => {
    const found = plan.profiles.find((each) => each.id === props.profile.id)
    if (found) change(found)
  })
}
</script>

<template>
  <FieldScope :of="profile" path="profiles" :edit="edit">
    <p>
      {{ words(profile.id) }} work wants
      <FieldToken field="cpu.mean" label="CPU of an active session" unit="vCPU" />
      give or take <FieldToken field="cpu.sd" label="Spread of CPU" /> (idle
      <FieldToken field="cpu.idle" label="CPU of an idle session" />) and
      <FieldToken field="memory_gib.active" label="Memory of an active session" unit="GiB" /> (idle
      <FieldToken field="memory_gib.idle" label="Memory of an idle session" />, disconnected
      <FieldToken field="memory_gib.disconnected" label="Memory of a disconnected session" />); a
      logon takes <FieldToken field="logon.seconds" label="Logon in seconds" unit="s" /> and
      <FieldToken field="logon.vcpu" label="CPU of a logon" unit="vCPU" />.
    </p>
  </FieldScope>
</template>
