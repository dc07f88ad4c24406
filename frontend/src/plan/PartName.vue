<script setup lang="ts">
import { computed } from 'vue'

import { nameOf, type Named } from './called'
import { useScope } from '@/ui/scope'
import ValueToken from '@/ui/ValueToken.vue'

/** What a thing within another is called: a pattern of a group, a load rule of a schedule. */
defineProps<{ label: string; part: Named }>()
const scope = useScope()
const path = computed(() => scope.pathOf('name'))
</script>

<template>
  <ValueToken
    kind="text"
    :label="label"
    :path="path"
    :model-value="nameOf(part)"
    @update:model-value="(name) => scope.set('name', String(name))"
  />
</template>
