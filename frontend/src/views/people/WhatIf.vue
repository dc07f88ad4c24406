<script setup lang="ts">
import { computed, ref } from 'vue'

import { freeName } from '@/parts/parts'
import { called } from '@/plan/called'
import { count, counted } from '@/ui/format'

import type { usePeople } from './usePeople'

/** What if: more or fewer come, the company grows, everyone starts earlier. Kept, or thrown away. */
const props = defineProps<{ people: ReturnType<typeof usePeople> }>()

const { asked, touched, edit, forget } = props.people.whatIf
const name = ref('')
const group = computed(() => props.people.group.value?.id ?? '')
const change = computed(() => {
  const { answer, before } = props.people.crowd
  return before === null || !answer ? null : answer.peak.people - before
})

async function keep(): Promise<void> {
  if (!edit.value) return
  const { plan } = props.people.store
  const wanted = name.value.trim() || 'What if'
  const free = plan ? freeName(plan, 'event', wanted) : wanted
  if (await props.people.store.apply({ ...edit.value, name: free })) thrownAway()
}
function thrownAway(): void {
  forget()
  name.value = ''
}
const shiftText = computed(() =>
  asked.shift === 0
    ? 'as now'
    : `${Math.abs(asked.shift)} min ${asked.shift < 0 ? 'earlier' : 'later'}`,
)
</script>

<template>
  <section data-testid="what-if">
    <h3>What if, in this week, for {{ group ? called('groups', group) : 'everyone' }}</h3>
    <label>
      <span
        >come <b>{{ count(asked.attendance) }} %</b></span
      >
      <input
        v-model.number="asked.attendance"
        type="range"
        min="40"
        max="160"
        step="5"
        data-testid="what-attendance"
        :aria-valuetext="`${asked.attendance} % of those who come now`"
      />
    </label>
    <label>
      <span
        >grown by <b>{{ count(asked.growth) }} %</b></span
      >
      <input
        v-model.number="asked.growth"
        type="range"
        min="-40"
        max="100"
        step="5"
        data-testid="what-growth"
      />
    </label>
    <label>
      <span
        >start <b>{{ shiftText }}</b></span
      >
      <input
        v-model.number="asked.shift"
        type="range"
        min="-180"
        max="180"
        step="15"
        data-testid="what-shift"
        :aria-valuetext="shiftText"
      />
    </label>
    <template v-if="touched">
      <p v-if="change !== null" role="status">
        Peak {{ change < 0 ? '−' : '+' }}{{ counted(Math.abs(change), 'person', 'people') }}.
      </p>
      <p>
        <input
          v-model="name"
          class="name text-box"
          placeholder="name of the event"
          aria-label="Name of the event"
        />
        <button class="link" data-testid="what-keep" @click="keep">Keep</button>
        <button class="link" data-testid="what-forget" @click="thrownAway">Throw away</button>
      </p>
    </template>
  </section>
</template>

<style scoped>
section {
  margin-top: 12px;
}
label {
  display: grid;
  grid-template-columns: 130px 1fr;
  align-items: center;
}
input[type='range'] {
  accent-color: var(--water-1);
  width: 100%;
}
.name {
  width: 150px;
}
</style>
