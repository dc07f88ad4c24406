<script setup lang="ts">
import { computed } from 'vue'

import type { Break, Pattern } from '@/api/client'
import { WAYS, type Way } from '@/people/pattern'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { WEEKDAYS, WEEKDAY_IDS, count, share } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

import type { usePeople } from './usePeople'

/** A pattern in sentences: the numbers behind the picture, and those that it has no room for. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; pattern: Pattern }>()

const PATH = 'groups.demand.patterns'
const NAMES: Record<Way, string> = {
  sign_off: 'sign off',
  disconnect: 'disconnect',
  walk_away: 'walk away',
}
const WHEN = [
  { value: 'at', text: 'at' },
  { value: 'after', text: 'after' },
]
const edit = (change: (pattern: Pattern) => void) => props.people.editPattern(change)
const days = computed(() =>
  WEEKDAY_IDS.map((id, k) => ({ id, name: WEEKDAYS[k], chance: props.pattern.attendance[id] })),
)
const taken = computed(() => props.people.picture.value?.breaks_taken ?? [])
const sharing = computed(() => {
  const demand = props.people.headcount.value
  return !!demand && !demand.rotation && demand.patterns.length > 1
})

function setDay(day: (typeof WEEKDAY_IDS)[number], chance: number | undefined): void {
  edit((pattern) => {
    const kept = Object.entries(pattern.attendance).filter(([name]) => name !== day)
    if (chance !== undefined) kept.push([day, chance])
    pattern.attendance = Object.fromEntries(kept)
  })
}
const editBreak = (index: number) => (change: (pause: Break) => void) =>
  edit((pattern) => {
    const pause = pattern.breaks[index]
    if (pause) change(pause)
  })
/** At the end of the day, or for a break by its number. */
function setLeaving(way: Way, value: number, pause: number | null = null): void {
  const group = props.people.group.value?.id ?? ''
  const share = Math.max(0, Math.min(value, 1))
  const place = { group, pattern: props.pattern.id, pause }
  void props.people.store.apply({ verb: 'set-leaving', ...place, way, share })
}
function setWhen(index: number, kind: string): void {
  editBreak(index)((pause) => {
    pause.after_minutes = (kind === 'after' ? 240 : null) as never
    if (kind === 'at') pause.at ??= '12:30'
  })
}
function asNormal(which: 'start' | 'length'): void {
  edit((pattern) => {
    if (which === 'start') {
      pattern.start = { kind: 'normal', mean: '09:00', sd_minutes: 60 } as never
    } else pattern.length = { kind: 'normal', mean_minutes: 240, sd_minutes: 90 } as never
  })
}
</script>

<template>
  <div class="sentences" data-testid="pattern-sentence">
    <FieldScope :of="pattern" :path="PATH" :edit="edit">
      <p>
        <template v-if="sharing">
          <FieldToken field="share" label="Share of the people" unit="%" :scale="100" /> of the
          people
        </template>
        <template v-else>People</template>
        start
        <template v-if="pattern.start.kind === 'histogram'">
          as observed, from {{ pattern.start.from }} on in steps of
          {{ pattern.start.step_minutes }} min (<button class="link" @click="asNormal('start')">
            by mean and spread</button
          >)
        </template>
        <template v-else>
          at <FieldToken field="start.mean" label="Start" kind="clock" /> give or take
          <FieldToken field="start.sd_minutes" label="Spread of starts" unit="min" />
        </template>
        and stay
        <template v-if="pattern.length.kind === 'histogram'">
          as observed (<button class="link" @click="asNormal('length')">by mean and spread</button
          >).
        </template>
        <template v-else>
          <FieldToken field="length.mean_minutes" label="Length in minutes" unit="min" /> give or
          take <FieldToken field="length.sd_minutes" label="Spread of lengths" unit="min" />.
        </template>
        <template v-if="people.picture.value">
          They work {{ count(people.picture.value.working_minutes / 60, 1) }} hours of it.
        </template>
      </p>
      <p>
        They come on
        <template v-for="(day, k) in days" :key="day.id">
          <template v-if="day.chance !== undefined"
            >{{ k ? ' ' : '' }}{{ day.name }}&nbsp;<ValueToken
              :label="`Attendance on ${day.name}`"
              unit="%"
              :scale="100"
              :model-value="day.chance"
              @update:model-value="(v) => setDay(day.id, Math.max(0, Math.min(Number(v), 1)))"
            /><button
              class="link tiny"
              :aria-label="`Not on ${day.name}`"
              title="not on this weekday"
              @click="setDay(day.id, undefined)"
            >
              ×
            </button></template
          ><button
            v-else
            class="link quiet"
            :title="`Let the pattern hold on ${day.name} too`"
            @click="setDay(day.id, 0.9)"
          >
            {{ day.name }}
          </button>
          {{ ' ' }}
        </template>
      </p>
      <p>
        At the end of the day
        <template v-for="(way, k) in WAYS" :key="way"
          >{{ k ? ', ' : ''
          }}<ValueToken
            :label="`Share that leaves this way: ${NAMES[way]}`"
            unit="%"
            :scale="100"
            :model-value="pattern.leaving[way]"
            @update:model-value="(v) => setLeaving(way, Number(v))"
          />
          {{ NAMES[way] }}</template
        >.
      </p>
    </FieldScope>
    <FieldScope
      v-for="(pause, index) in pattern.breaks"
      :key="index"
      :of="pause"
      :path="`${PATH}.breaks`"
      :edit="editBreak(index)"
    >
      <p>
        Break {{ index + 1 }}:
        <FieldToken field="probability" label="Share that takes the break" unit="%" :scale="100" />
        pause
        <ChoiceToken
          label="When the break is"
          :options="WHEN"
          :model-value="pause.after_minutes === null ? 'at' : 'after'"
          @update:model-value="(v) => setWhen(index, v)"
        />
        {{ ' ' }}
        <FieldToken
          v-if="pause.after_minutes === null"
          field="at"
          label="Break begins"
          kind="clock"
        />
        <FieldToken v-else field="after_minutes" label="Minutes after the start" unit="min" />
        give or take
        <FieldToken field="sd_minutes" label="Spread of the break's begin" unit="min" />
        for
        <FieldToken field="mean_minutes" label="Length of the break" unit="min" /> give or take
        <FieldToken field="length_sd_minutes" label="Spread of the break's length" unit="min" />;
        <template v-for="(way, k) in WAYS" :key="way"
          >{{ k ? ', ' : ''
          }}<ValueToken
            :label="`Break ${index + 1}: share that leaves this way: ${NAMES[way]}`"
            unit="%"
            :scale="100"
            :model-value="pause.leaving[way]"
            @update:model-value="(v) => setLeaving(way, Number(v), index + 1)"
          />
          {{ NAMES[way] }}</template
        >.
        <span v-if="(taken[index] ?? 1) < pause.probability - 0.02" class="quiet">
          Only {{ share(taken[index] ?? 0) }} find the time for it.
        </span>
        <button class="link" @click="edit((p) => p.breaks.splice(index, 1))">Remove</button>
      </p>
    </FieldScope>
  </div>
</template>

<style scoped>
.sentences {
  padding: 4px 16px;
}
.tiny {
  text-decoration: none;
  color: var(--ink-quiet);
}
</style>
