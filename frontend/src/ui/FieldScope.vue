<script setup lang="ts" generic="T extends object">
import { provideScope } from './scope'

/** Says which part of the plan the field tokens inside belong to. */
const props = defineProps<{
  of: T
  path: string
  edit: (change: (part: T) => void) => void
}>()
provideScope({
  value: () => props.of,
  edit: (change) => props.edit(change as (part: T) => void),
  path: props.path,
})
</script>

<template><slot /></template>
