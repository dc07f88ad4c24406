<script setup lang="ts">
import type { Plan } from '@/api/client'
import { nameOf } from '@/plan/called'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import FieldToken from '@/ui/FieldToken.vue'

/** What a session of one workload profile wants, and what its logon costs. */
type Profile = Plan['profiles'][number]
defineProps<{ profile: Profile }>()
</script>

<template>
  <PlanPart :of="PLAN.at('profiles').item(profile.id)">
    <p>
      {{ nameOf(profile) }} work wants
      <FieldToken field="cpu.mean" label="CPU of an active session" unit="vCPU" />
      give or take <FieldToken field="cpu.sd" label="Spread of CPU" /> (idle
      <FieldToken field="cpu.idle" label="CPU of an idle session" />) and
      <FieldToken field="memory_gib.active" label="Memory of an active session" unit="GiB" /> (idle
      <FieldToken field="memory_gib.idle" label="Memory of an idle session" />, disconnected
      <FieldToken field="memory_gib.disconnected" label="Memory of a disconnected session" />); a
      logon takes <FieldToken field="logon.seconds" label="Logon time" unit="s" /> and
      <FieldToken field="logon.vcpu" label="CPU of a logon" unit="vCPU" />.
    </p>
  </PlanPart>
</template>
