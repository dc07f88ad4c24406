<script setup lang="ts">
import { computed } from 'vue'

import type { Day, Plan } from '@/api/client'
import { dropOwnRules, giveOwnRules, type BandPlace } from '@/board/edits'
import { dayName } from '@/ui/format'

/** Gives the chosen date rules of its own, or takes them away again. */
const props = defineProps<{ plan: Plan; place: BandPlace; day: Day }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

const own = computed(
  () =>
    props.plan.schedules
      .find((s) => s.id === props.place.schedule)
      ?.day_types[props.place.dayType]?.dates.includes(props.day.date) ?? false,
)
function change(): void {
  const turn = own.value ? dropOwnRules : giveOwnRules
  const { place, day } = props
  emit('edit', (plan) => turn(plan, place, day.date))
}
</script>

<template>
  <button class="link" data-testid="own-rules" @click="change">
    {{ own ? 'Back to the rules of its weekday' : `Give ${dayName(day.date)} rules of its own` }}
  </button>
</template>
