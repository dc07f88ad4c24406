<script setup lang="ts">
import { computed } from 'vue'

import type { Day, Edit, Plan, Pool } from '@/api/client'
import type { BandPlace } from '@/board/edits'
import { bandAt, dayTypeAt, setBand } from '@/board/edits'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { WEEKDAYS, WEEKDAY_IDS, dayName, fullDayName, words } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

/** The chosen band as a sentence whose values are edited where they stand. */
const props = defineProps<{ plan: Plan; pool: Pool; place: BandPlace; day: Day }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void]; apply: [edit: Edit] }>()

const BAND = 'schedules.day_types.bands'
const RULES = [
  { value: 'spread', text: 'spread' },
  { value: 'fill', text: 'fill' },
] as const
const RELEASES = [
  { value: 'keep all', text: 'keep all of them' },
  { value: 'when empty', text: 'let empty ones go' },
  { value: 'drain', text: 'drain the least used' },
] as const

const band = computed(() => bandAt(props.plan, props.place))
const dayType = computed(() => dayTypeAt(props.plan, props.place))
const days = computed(() =>
  [
    ...WEEKDAY_IDS.flatMap((id, k) => (dayType.value?.weekdays.includes(id) ? [WEEKDAYS[k]] : [])),
    ...(dayType.value?.dates ?? []).map(dayName),
  ].join(', '),
)
const own = computed(() => dayType.value?.dates.includes(props.day.date) ?? false)
function set<K extends 'floor' | 'fill_ceiling' | 'headroom' | 'rule' | 'release'>(
  key: K,
  value: unknown,
): void {
  emit('edit', (plan) => setBand(plan, props.place, { [key]: value }))
}
function begin(to: string): void {
  if (!band.value || !dayType.value) return
  emit('apply', {
    verb: 'move-band',
    schedule: props.place.schedule,
    day_type: dayType.value.id,
    band: band.value.from,
    to,
  })
}
</script>

<template>
  <p v-if="band && dayType" class="sentence" data-testid="sentence">
    <template v-if="own">
      On <b :title="days">{{ fullDayName(day.date) }}</b>
    </template>
    <template v-else>
      On a <b :title="days">{{ words(dayType.id) }}</b>
    </template>
    from
    <ValueToken
      v-if="place.band > 0"
      kind="clock"
      label="Band begins"
      :model-value="band.from"
      @update:model-value="(v) => begin(String(v))"
    />
    <b v-else>00:00</b>
    keep at least
    <ValueToken
      label="Floor"
      :path="`${BAND}.floor`"
      :model-value="band.floor"
      @update:model-value="(v) => set('floor', v)"
    />
    of {{ pool.hosts.standing + pool.hosts.surge }} hosts ready; start the next when they are
    <ValueToken
      label="Fill ceiling in per cent"
      :path="`${BAND}.fill_ceiling`"
      :scale="100"
      unit="%"
      :model-value="band.fill_ceiling"
      @update:model-value="(v) => set('fill_ceiling', v)"
    />
    full or fewer than
    <ValueToken
      label="Headroom in session slots"
      :path="`${BAND}.headroom`"
      :model-value="band.headroom"
      @update:model-value="(v) => set('headroom', v)"
    />
    slots are free;
    <ChoiceToken
      label="Balancing rule"
      :path="`${BAND}.rule`"
      :options="RULES"
      :model-value="band.rule"
      @update:model-value="(v) => set('rule', v)"
    />
    people over them, and when more are ready than wanted,
    <ChoiceToken
      label="Release"
      :path="`${BAND}.release`"
      :options="RELEASES"
      :model-value="band.release"
      @update:model-value="(v) => set('release', v)"
    />. <span class="quiet days">Changes {{ days }}.</span>
  </p>
</template>

<style scoped>
.sentence {
  font-size: 15.5px;
  line-height: 1.75;
  max-width: 112ch;
}
.days {
  font-size: 12.5px;
}
</style>
