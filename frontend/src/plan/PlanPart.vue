<script setup lang="ts">
import { provideScope } from '@/ui/scope'

import type { Lens } from './lens'
import { usePlan } from './store'

/** Says which part of the plan the field tokens inside belong to. */
const props = defineProps<{ of: Lens<unknown> }>()
const store = usePlan()
provideScope({
  read: (field) => store.plan && props.of.field(field).read(store.plan),
  set: (field, value) => store.set(props.of.field(field), value),
  pathOf: (field) => props.of.field(field).path,
})
</script>

<template><slot /></template>
