<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { RouterLink } from 'vue-router'

import { api, type Problem, type RevisionChanges, type RevisionSummary } from '@/api/client'
import { told } from '@/ask/told'
import { moment } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

/** The revisions of a plan, newest first: who saved each, with which words, and what it changed. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ copy: [number: number] }>()
const revisions = shallowRef<RevisionSummary[] | null>(null)
const problem = shallowRef<Problem | null>(null)
const opened = ref<number | null>(null)
const changes = shallowRef<Record<number, RevisionChanges>>({})

onMounted(async () => {
  const params = { path: { plan_id: props.id } }
  const answer = await told(api.GET('/api/plans/{plan_id}/revisions', { params }))
  problem.value = answer.problem
  revisions.value = answer.data?.revisions ?? null
})

async function open(number: number): Promise<void> {
  opened.value = opened.value === number ? null : number
  if (opened.value === null || changes.value[number]) return
  const params = { path: { plan_id: props.id, number } }
  const answer = await told(api.GET('/api/plans/{plan_id}/revisions/{number}/changes', { params }))
  problem.value = answer.problem
  if (answer.data) changes.value = { ...changes.value, [number]: answer.data }
}
</script>

<template>
  <div class="revisions">
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-else-if="!revisions" class="quiet">Looking …</p>
    <ol v-else reversed aria-label="Revisions">
      <li v-for="each in revisions" :key="each.number">
        <button
          v-if="each.number > 1"
          class="plain"
          :aria-expanded="opened === each.number"
          :aria-label="`What r${each.number} changed`"
          @click="open(each.number)"
        >
          {{ opened === each.number ? '▾' : '▸' }} r{{ each.number }}
        </button>
        <span v-else class="first">r1</span>
        <span>{{ each.words || 'no words' }}</span>
        <span class="quiet">{{ each.author }}, {{ moment(each.saved_at) }}</span>
        <RouterLink :to="{ name: 'board', params: { id }, query: { pin: each.number } }">
          Compare with today
        </RouterLink>
        <button class="link" @click="emit('copy', each.number)">New plan from it</button>
        <ul v-if="opened === each.number && changes[each.number]" class="changed">
          <li v-for="(one, place) in changes[each.number]?.changes" :key="place">
            {{ one.place }}:
            <template v-if="one.before && one.after">
              {{ one.before }} → <b>{{ one.after }}</b>
            </template>
            <template v-else-if="one.after">
              new: <b>{{ one.after }}</b>
            </template>
            <template v-else>{{ one.before || 'it' }} was removed</template>
          </li>
          <li v-if="changes[each.number]?.more" class="quiet">
            and {{ changes[each.number]?.more }} more
          </li>
          <li v-if="!changes[each.number]?.changes.length" class="quiet">nothing but its words</li>
        </ul>
      </li>
    </ol>
  </div>
</template>

<style scoped>
ol {
  max-height: 320px;
  overflow: auto;
  padding: 0;
  margin: 0;
  list-style: none;
}
ol > li {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  align-items: baseline;
  padding: 3px 0;
}
ol > li > button:first-child,
.first {
  box-sizing: border-box;
  width: 60px;
  text-align: left;
}
.first {
  padding-left: 18px;
}
.changed {
  flex-basis: 100%;
  margin: 2px 0 6px 60px;
  padding: 0 0 0 14px;
  border-left: 2px solid var(--hair);
  list-style: none;
  overflow-wrap: anywhere;
}
a {
  color: var(--ink);
}
</style>
