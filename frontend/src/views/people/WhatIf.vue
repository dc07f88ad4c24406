<script setup lang="ts">
import { computed, ref } from 'vue'

import { freeName } from '@/parts/parts'
import { called } from '@/plan/called'
import { count, counted } from '@/ui/format'
import { WHAT_IF } from '@/views/frame/address'

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
const signed = (value: number) =>
  value === 0 ? 'as now' : `${Math.abs(value)} min ${value < 0 ? 'earlier' : 'later'}`
const sliders = computed(() => [
  {
    word: 'come' as const,
    text: 'come',
    label: 'What if more or fewer come',
    said: `${count(asked.come)} %`,
    spoken: `${asked.come} % of those who come now`,
  },
  {
    word: 'grown' as const,
    text: 'grown by',
    label: 'What if the group has grown',
    said: `${count(asked.grown)} %`,
    spoken: `grown by ${asked.grown} %`,
  },
  {
    word: 'later' as const,
    text: 'start',
    label: 'What if work starts earlier or later',
    said: signed(asked.later),
    spoken: signed(asked.later),
  },
])
</script>

<template>
  <section data-testid="what-if">
    <h3>What if, in this week, for {{ group ? called('groups', group) : 'everyone' }}</h3>
    <label v-for="{ word, text, label, said, spoken } in sliders" :key="word">
      <span
        >{{ text }} <b>{{ said }}</b></span
      >
      <input
        v-model.number="asked[word]"
        type="range"
        :min="WHAT_IF[word].low"
        :max="WHAT_IF[word].high"
        :step="WHAT_IF[word].step"
        :aria-label="label"
        :aria-valuetext="spoken"
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
