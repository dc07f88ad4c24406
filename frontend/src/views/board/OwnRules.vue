<script setup lang="ts">
import { computed } from 'vue'

import type { Day, Edit, Plan } from '@/api/client'
import { dayTypeAt, type BandPlace } from './edits'
import { dayName } from '@/ui/format'

/** Gives the chosen date rules of its own, or takes them away again. */
const props = defineProps<{ plan: Plan; place: BandPlace; day: Day }>()
const emit = defineEmits<{ apply: [edit: Edit] }>()

const kind = computed(() => dayTypeAt(props.place).read(props.plan))
const own = computed(() => kind.value?.dates.includes(props.day.date) ?? false)
function change(): void {
  const named = { schedule: props.place.schedule, date: props.day.date }
  if (own.value) emit('apply', { verb: 'drop-date-rules', ...named })
  else emit('apply', { verb: 'give-date-rules', ...named, like: kind.value?.id ?? null })
}
</script>

<template>
  <button class="link" data-testid="own-rules" @click="change">
    {{ own ? 'Back to the rules of its weekday' : `Give ${dayName(day.date)} rules of its own` }}
  </button>
</template>
