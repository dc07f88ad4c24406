<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'

import type { Job } from '@/api/client'
import { isLive, useJobs } from '@/ask/jobs'
import { owner } from '@/ask/page'
import { count, duration } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

/** Long work in a corner of the bar: what runs and for whom, how far it is, how it ended. */
const jobs = useJobs()
const open = ref(false)
onMounted(jobs.follow)

/** What was asked over and over is one line: the newest. */
const shown = computed(() => {
  const seen = new Set<string>()
  const newest = (job: Job) => isLive(job) || (!seen.has(job.title) && !!seen.add(job.title))
  return jobs.all.filter(newest).slice(0, 10)
})

function said(job: Job): string {
  const so = `${count(job.done)} of ${count(job.parts)}`
  if (job.state === 'waiting')
    return job.problem || (jobs.workers ? 'waits for its turn' : 'waits: no worker is there')
  if (job.state === 'running')
    return job.left === null ? so : `${so}, ${duration(Math.ceil(job.left))} left`
  if (job.state === 'failed') return `failed: ${job.problem}`
  return job.state === 'done' ? 'done' : `stopped at ${so}`
}
function whose(job: Job): string {
  if (job.owner === owner) return 'asked here'
  return job.owner ? 'asked by another page' : 'asked on the command line'
}
</script>

<template>
  <span v-if="jobs.all.length" class="jobs" @keydown.esc="open = false">
    <button
      class="link"
      :aria-expanded="open"
      aria-controls="jobs-list"
      data-testid="jobs"
      @click="open = !open"
    >
      {{ jobs.live.length ? `${count(jobs.live.length)} at work` : 'Work done' }}
    </button>
    <section v-if="open" id="jobs-list" class="list" aria-label="Long work">
      <div v-for="job in shown" :key="job.id" class="job">
        <RouterLink v-if="job.link" :to="job.link" class="title" @click="open = false">
          {{ job.title }}
        </RouterLink>
        <span v-else class="title">{{ job.title }}</span>
        <button
          v-if="isLive(job)"
          class="link"
          :aria-label="`Stop ${job.title}`"
          @click="jobs.stop(job.id)"
        >
          Stop
        </button>
        <button
          v-else-if="job.state !== 'done'"
          class="link"
          :aria-label="`Go on with ${job.title}`"
          @click="jobs.again(job.id)"
        >
          Go on
        </button>
        <progress v-if="isLive(job)" :value="job.done" :max="job.parts" :aria-label="job.title" />
        <span class="said">{{ said(job) }} · {{ whose(job) }}</span>
      </div>
      <ProblemNote v-if="jobs.problem" :problem="jobs.problem" />
    </section>
  </span>
</template>

<style scoped>
.jobs {
  position: relative;
}
.list {
  position: absolute;
  right: 0;
  top: 26px;
  z-index: 30;
  width: 420px;
  max-height: 70vh;
  overflow-y: auto;
  padding: 6px 12px;
  background: var(--paper-raised);
  border: 1px solid var(--hair-strong);
  white-space: normal;
  font-size: 12.5px;
}
.job {
  display: grid;
  grid-template-columns: 1fr auto;
  gap: 2px 8px;
  padding: 5px 0;
}
.job + .job {
  border-top: 1px solid var(--hair);
}
.said {
  grid-column: 1;
  color: var(--ink-quiet);
}
progress {
  grid-column: 1 / -1;
  width: 100%;
  height: 6px;
  accent-color: var(--brass);
}
</style>
