<script setup lang="ts">
import { computed } from 'vue'

import type { Pattern, Plan } from '@/api/client'
import { WAYS, type Way } from './pattern'
import PartName from '@/plan/PartName.vue'
import PlanPart from '@/plan/PlanPart.vue'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { WEEKDAYS, WEEKDAY_IDS, count, share } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

import type { usePeople } from './usePeople'

/** A pattern in sentences: the numbers behind the picture, and those that it has no room for. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; pattern: Pattern }>()

const NAMES: Record<Way, string> = {
  sign_off: 'sign off',
  disconnect: 'disconnect',
  walk_away: 'walk away',
}
const WHEN = [
  { value: 'at', text: 'at' },
  { value: 'after', text: 'after' },
]
const { store } = props.people
const patternAt = computed(() => props.people.patternAt.value)
const group = () => props.people.group.value?.id ?? ''
const breaks = computed(() => patternAt.value.at('breaks').rows(store.plan as Plan))
const days = computed(() =>
  WEEKDAY_IDS.map((id, k) => ({ id, name: WEEKDAYS[k], chance: props.pattern.attendance[id] })),
)
const taken = computed(() => props.people.picture.value?.breaks_taken ?? [])
/** A pattern that is the only one needs no name. */
const many = computed(() => (props.people.headcount.value?.patterns.length ?? 0) > 1)
const sharing = computed(() => {
  const demand = props.people.headcount.value
  return !!demand && !demand.rotation && demand.patterns.length > 1
})

function setDay(day: (typeof WEEKDAY_IDS)[number], chance: number | undefined): void {
  store.alter(patternAt.value, (pattern) => {
    const kept = Object.entries(pattern.attendance).filter(([name]) => name !== day)
    if (chance !== undefined) kept.push([day, chance])
    pattern.attendance = Object.fromEntries(kept)
  })
}
/** At the end of the day, or for a break by its number. */
function setLeaving(way: Way, value: number, pause: number | null = null): void {
  const share = Math.max(0, Math.min(value, 1))
  const place = { group: group(), pattern: props.pattern.id, pause }
  void store.apply({ verb: 'set-leaving', ...place, way, share })
}
function setWhen(pause: number, by: string): void {
  const place = { group: group(), pattern: props.pattern.id, pause }
  void store.apply({ verb: 'set-break-time', ...place, by: by as 'at' | 'after' })
}
function asNormal(which: 'start' | 'length'): void {
  const place = { group: group(), pattern: props.pattern.id }
  void store.apply({ verb: 'plain-pattern', ...place, which })
}
</script>

<template>
  <div class="sentences" data-testid="pattern-sentence">
    <PlanPart :of="patternAt">
      <p>
        <template v-if="many"> <PartName label="Name of the pattern" :part="pattern" />: </template>
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
      <p>
        With the desktop left open,
        <FieldToken field="habits.long_call" label="Share in a long call" unit="%" :scale="100" />
        sit in a long call and
        <FieldToken
          field="habits.reading"
          label="Share that reads away from the screen"
          unit="%"
          :scale="100"
        />
        read away from the screen;
        <FieldToken field="habits.works_late" label="Share that works late" unit="%" :scale="100" />
        pause and then work on late.
      </p>
    </PlanPart>
    <PlanPart v-for="({ value: pause, key, at }, index) in breaks" :key="key" :of="at">
      <p>
        Break {{ index + 1 }}:
        <FieldToken field="probability" label="Share that takes the break" unit="%" :scale="100" />
        pause
        <ChoiceToken
          label="When the break is"
          :options="WHEN"
          :model-value="pause.after_minutes === null ? 'at' : 'after'"
          @update:model-value="(v) => setWhen(index + 1, v)"
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
        <button class="link" @click="store.remove(at)">Remove</button>
      </p>
    </PlanPart>
  </div>
</template>

<style scoped>
.sentences {
  padding: 4px 16px;
}
</style>
