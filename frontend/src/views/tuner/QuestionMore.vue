<script setup lang="ts">
import { computed } from 'vue'

import { numbersOf } from '@/help/hints'
import { called } from '@/plan/called'
import { FREE_NAMES } from './names'
import { words } from '@/ui/format'
import ValueToken from '@/ui/ValueToken.vue'

import { gives, type Tuner } from './useTuner'

/** What else is asked of a study: which weeks count how much, what stays, within which bounds, and
 * when it ends early. */
const props = defineProps<{ tuner: Tuner }>()
const { free, locked, may, seconds, seed, sharing, together, weights, within } = props.tuner

const weeks = computed(() => may.value?.weeks ?? [])
function weigh(name: string, weight: number | null): void {
  const rest = Object.entries(weights.value).filter(([each]) => each !== name)
  weights.value = Object.fromEntries(weight === null ? rest : [...rest, [name, weight]])
}
/** As often as such weeks come; a condition that must be borne does not count in the money. */
const first = (name: string) => weeks.value.find((week) => week.name === name)?.weight ?? 1
const MUST = 'must hold'
const none = computed(() => !weeks.value.some((w) => w.name in weights.value))

function lock(path: string, on: boolean): void {
  const rest = locked.value.filter((each) => each !== path)
  locked.value = on ? [...rest, path] : rest
}
const turnable = computed(() =>
  (may.value?.turnable ?? []).filter((t) => gives(free.value, t.belongs)),
)
const fieldName = (path: string) =>
  FREE_NAMES[path] ?? path.split('.').slice(-1)[0]?.replaceAll('_', ' ') ?? path

/** Fields with numbers that have no bounds yet. */
const boundable = computed(() =>
  turnable.value.filter(
    (t) =>
      !within.value.some((b) => b.path === t.path) &&
      t.today.some((v) => v.trim() !== '' && Number.isFinite(Number(v))),
  ),
)
/** Timeouts may change and have no bounds: the search is kind to people by itself. */
const kind = computed(
  () => gives(free.value, 'timeouts') && !within.value.some((b) => b.path.includes('timeout')),
)
const unitOf = (path: string) => turnable.value.find((t) => t.path === path)?.unit ?? ''
function addBound(event: Event): void {
  const menu = event.target as HTMLSelectElement
  const field = boundable.value.find((t) => t.path === menu.value)
  menu.value = ''
  if (!field) return
  const numbers = field.today.map(Number).filter(Number.isFinite)
  const { low = -Infinity, high = Infinity, whole } = numbersOf(field.path)
  const half = Math.min(...numbers) / 2
  // A half and the double of what stands today, to begin with.
  bounds([
    ...within.value,
    {
      path: field.path,
      low: Math.max(whole ? Math.floor(half) : half, low),
      high: Math.min(Math.max(...numbers) * 2, high),
    },
  ])
}
function setBound(at: number, values: { low?: number; high?: number }): void {
  bounds(within.value.map((b, k) => (k === at ? { ...b, ...values } : b)))
}
function bounds(found: Tuner['within']['value']): void {
  within.value = found
}

const minutes = computed(() => {
  if (seconds.value === null) return 'never'
  return String(Math.round((seconds.value / 60) * 100) / 100)
})
function endAfter(text: number | string): void {
  const found = Number(text)
  const never = !Number.isFinite(found) || found <= 0
  const { low = 0, high = Infinity } = numbersOf('StudyBody.seconds')
  seconds.value = never ? null : Math.min(Math.max(Math.round(found * 60), low), high)
}
</script>

<template>
  <details class="more">
    <summary>Which weeks count, what stays as it is, within which bounds, and for how long</summary>
    <p>
      Weeks that count, each so often:
      <span v-for="week in weeks" :key="week.name" class="week">
        <label :title="week.why">
          <input
            type="checkbox"
            :checked="week.name in weights"
            @change="
              weigh(
                week.name,
                ($event.target as HTMLInputElement).checked ? first(week.name) : null,
              )
            "
          />
          {{ words(week.name) }} <template v-if="week.weight">({{ week.monday }})</template>
        </label>
        <template v-if="week.name in weights">
          {{ weights[week.name] ? '×' : `${MUST}, ×` }}
          <ValueToken
            :label="`How often ${words(week.name)} comes`"
            path="CountedModel.weight"
            :model-value="weights[week.name] ?? 0"
            @update:model-value="(v) => weigh(week.name, Number(v))"
          />
        </template>
      </span>
      <span class="quiet note">
        {{
          none
            ? 'None is chosen: the study looks at the week of the plan and at those of the year that differ most.'
            : 'The month is weighed by that; the promise has to be kept in each of them.'
        }}
      </span>
    </p>
    <p v-if="sharing.length" data-testid="sharing">
      Shares its schedule; tuned together with it:
      <label v-for="id in sharing" :key="id">
        <input v-model="together" type="checkbox" :value="id" />
        {{ called('pools', id) }}
      </label>
      <span v-if="!together.length" class="quiet note">
        Alone it gets a schedule of its own, and the others keep theirs.
      </span>
    </p>
    <p>
      Stays as it is:
      <label v-for="field in turnable" :key="field.path" :title="field.meaning">
        <input
          type="checkbox"
          :checked="locked.includes(field.path)"
          @change="lock(field.path, ($event.target as HTMLInputElement).checked)"
        />
        {{ fieldName(field.path) }}
      </label>
    </p>
    <p>
      Only within:
      <span v-for="(bound, k) in within" :key="bound.path" class="bound">
        {{ fieldName(bound.path) }} from
        <ValueToken
          label="Least"
          :path="bound.path"
          :model-value="bound.low"
          @update:model-value="(v) => setBound(k, { low: Number(v) })"
        />
        to
        <ValueToken
          label="Most"
          :path="bound.path"
          :model-value="bound.high"
          @update:model-value="(v) => setBound(k, { high: Number(v) })"
        />
        {{ unitOf(bound.path) }}
        <button class="link" @click="bounds(within.filter((_, at) => at !== k))">without</button>;
      </span>
      <span v-if="kind" class="quiet note">
        Timeouts stay at 15 min or more, unless they are bounded here or are shorter today.
      </span>
      <select
        v-if="boundable.length"
        aria-label="Bound another field"
        data-testid="bound"
        @change="addBound"
      >
        <option value="">another field …</option>
        <option v-for="field in boundable" :key="field.path" :value="field.path">
          {{ fieldName(field.path) }} ({{ field.today.join(', ') }} {{ field.unit }} today)
        </option>
      </select>
    </p>
    <p>
      Ended before its weeks are used after
      <ValueToken
        label="Minutes after which it is ended early"
        kind="timeout"
        :model-value="minutes"
        @update:model-value="endAfter"
      />
      {{ seconds === null ? '' : 'min' }}. Random choices begin with
      <ValueToken
        label="Number of the search"
        path="StudyBody.seed"
        :model-value="seed"
        @update:model-value="(v) => (seed = Number(v))"
      />:
      <span class="quiet">
        the same question has the same answer, unless time ends it; another number is another
        search.
      </span>
    </p>
  </details>
</template>

<style scoped>
.more {
  font-size: 13px;
}
.more label {
  display: inline-flex;
  gap: 4px;
  align-items: baseline;
  margin-left: 10px;
}
.note,
.week {
  margin-left: 10px;
}
.bound {
  margin-right: 10px;
}
</style>
