<script setup lang="ts">
import { computed, shallowRef, watch } from 'vue'

import type { Plan, Pool, WeekOfYear } from '@/api/client'
import { keyOf } from '@/ask/content'
import { inParts, type Part } from '@/ask/parts'
import { useQuestion } from '@/ask/question'
import { named } from '@/ask/send'
import YearStrip from './YearStrip.vue'
import { count, counted } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'
import ProgressNote from '@/ui/ProgressNote.vue'

/** A year of the pool, week by week: simulated as long work, shown as its weeks are done. */
const props = defineProps<{ plan: Plan; pool: Pool; year: number; first: string }>()
const emit = defineEmits<{ choose: [monday: string]; year: [year: number] }>()

interface Wish {
  plan: Plan
  pool: string
  year: number
}
interface Weeks {
  weeks: WeekOfYear[]
}
type YearPart = Part<Weeks> & { places?: number[]; weeks?: WeekOfYear[] }

/** The weeks of what was asked last, as they are done. */
const weeks = shallowRef<(WeekOfYear | undefined)[]>([])
function take(part: YearPart): void {
  if (part.answer) {
    weeks.value = part.answer.weeks
    return
  }
  const next = [...weeks.value]
  next.length = part.of
  part.places?.forEach((place, k) => (next[place] = part.weeks?.[k]))
  weeks.value = next
}
const asked = useQuestion<Wish, Weeks>(
  (wish, call) => {
    weeks.value = []
    return inParts<Weeks>('/api/simulations/year', { ...wish, ...named(call) }, call, take)
  },
  { key: (wish) => keyOf(wish.plan, wish.pool, wish.year), urgent: () => true },
)
const said = shallowRef<Plan | null>(null)
function ask(): void {
  said.value = props.plan
  asked.ask({ plan: props.plan, pool: props.pool.id, year: props.year })
}
watch([() => props.pool.id, () => props.year], ask, { immediate: true })

/** Whether the plan has changed since the year was asked for. */
const old = computed(() => said.value !== props.plan)
const done = computed(() => weeks.value.filter(Boolean).length)
const broken = computed(() => weeks.value.filter((each) => each && !each.kept).length)
const ended = computed(() => !asked.busy.value && !asked.fits.value)
</script>

<template>
  <section class="year" aria-label="The year, week by week" data-testid="year-of-weeks">
    <div class="said">
      <button class="link" :aria-label="`Weeks of ${year - 1}`" @click="emit('year', year - 1)">
        ‹
      </button>
      <b>{{ year }}</b>
      <button class="link" :aria-label="`Weeks of ${year + 1}`" @click="emit('year', year + 1)">
        ›
      </button>
      <ProgressNote
        v-if="asked.busy.value && asked.progress.value"
        :progress="asked.progress.value"
        what="weeks simulated"
        @stop="asked.stop"
      />
      <span v-else-if="asked.fits.value">
        In {{ broken ? count(broken) : 'none' }} of {{ counted(done, 'week') }} the promise is broken.
      </span>
      <span v-else-if="ended && !asked.problem.value">
        It was ended after {{ counted(done, 'week') }}.
      </span>
      <button v-if="old || ended" class="link" @click="ask">
        {{ old ? 'The plan has changed: simulate it anew' : 'Go on' }}
      </button>
    </div>
    <ProblemNote v-if="asked.problem.value" :problem="asked.problem.value" />
    <YearStrip
      v-if="weeks.length"
      :weeks="weeks"
      :year="year"
      :pool="pool.id"
      :currency="plan.currency"
      :first="first"
      @choose="emit('choose', $event)"
    />
  </section>
</template>

<style scoped>
.year {
  padding: 2px 16px;
  border-top: 1px solid var(--hair-strong);
  font-size: 12.5px;
  flex: none;
}
.said {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
</style>
