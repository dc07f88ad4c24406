<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import { api, type Group, type Plan, type Problem } from '@/api/client'
import { sent } from '@/ask/send'
import { numbersOf } from '@/help/hints'
import { added, copyPart, freeName, removePart } from '@/parts/parts'
import { nameOf } from '@/plan/called'
import ProblemNote from '@/ui/ProblemNote.vue'

import type { usePeople } from './usePeople'

/** Copying, splitting and merging a group; the server keeps who comes as they were. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; group: Group }>()

type Doing = 'split' | 'merge' | 'remove' | null
const doing = ref<Doing>(null)
const PEOPLE = numbersOf('SplitBody.people')
const part = ref(1)
const other = ref('')
const problem = shallowRef<Problem | null>(null)
const plan = computed(() => props.people.store.plan as Plan)
const named = computed(() => props.group.demand.kind === 'headcount')
const others = computed(() =>
  plan.value.groups.filter(
    (g) => g.id !== props.group.id && g.demand.kind === props.group.demand.kind,
  ),
)
watch(
  () => props.group.id,
  () => {
    doing.value = null
    problem.value = null
  },
)

function begin(what: Doing): void {
  doing.value = what
  problem.value = null
  part.value =
    named.value && props.group.demand.kind === 'headcount'
      ? Math.max(1, Math.floor(props.group.demand.people / 2))
      : 500
  other.value = others.value[0]?.id ?? ''
}
type Change =
  | { kind: 'split'; group: string; people: number; new: string }
  | { kind: 'merge'; groups: string[]; new: string }

async function ask(change: Change): Promise<void> {
  const found = await props.people.store.change((plan) =>
    api.POST('/api/people/regroup', sent({ plan, change })),
  )
  problem.value = found.problem
  if (!found.done) return
  doing.value = null
  const one = plan.value.groups.find((each) => each.id === change.new || each.name === change.new)
  if (!one) return
  // The name of a group that was split off is ready to be typed over.
  if (change.kind === 'split') added.value = { what: 'group', id: one.id }
  props.people.go({ group: one.id, pattern: undefined })
}
async function copy(): Promise<void> {
  const id = await copyPart('group', props.group)
  if (id) props.people.go({ group: id, pattern: undefined })
}
function finish(): void {
  if (doing.value === 'split') {
    const name = freeName(plan.value, 'group', `${nameOf(props.group)}, part`)
    void ask({ kind: 'split', group: props.group.id, people: Math.round(part.value), new: name })
  } else if (doing.value === 'merge') {
    void ask({ kind: 'merge', groups: [props.group.id, other.value], new: props.group.id })
  } else if (doing.value === 'remove') void remove()
}
async function remove(): Promise<void> {
  if (await removePart('group', props.group.id))
    props.people.go({ group: undefined, pattern: undefined })
}
</script>

<template>
  <span class="line">
    <button class="link" data-testid="copy-group" @click="copy">Copy</button>
    <button class="link" data-testid="split-group" @click="begin('split')">Split</button>
    <button v-if="others.length" class="link" data-testid="merge-group" @click="begin('merge')">
      Merge
    </button>
    <button class="link" @click="begin('remove')">Remove</button>
    <form v-if="doing" @submit.prevent="finish">
      <template v-if="doing === 'split'">
        move
        <input
          v-model.number="part"
          class="text-box"
          type="number"
          :min="PEOPLE.low"
          :max="PEOPLE.high"
          data-testid="split-part"
          aria-label="How many"
        />
        {{ named ? 'people' : 'in 1,000 arrivals' }} to a group of their own
      </template>
      <template v-else-if="doing === 'merge'">
        with
        <select
          v-model="other"
          class="text-box"
          data-testid="merge-other"
          aria-label="Group to merge with"
        >
          <option v-for="each in others" :key="each.id" :value="each.id">
            {{ nameOf(each) }}
          </option>
        </select>
      </template>
      <template v-else>the group, with what it may open?</template>
      <button class="link" data-testid="regroup-do">Do it</button>
      <button type="button" class="link" @click="doing = null">Leave it</button>
    </form>
    <ProblemNote v-if="problem" :problem="problem" />
  </span>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 12px;
  flex: 1;
}
input[type='number'] {
  width: 72px;
}
</style>
