<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

import { isLive, useJobs } from '@/stores/jobs'
import type { Job } from '@/api/client'
import { count, duration } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

/** Long work in a corner of the bar: what runs, how far it is, how it ended. */
const jobs = useJobs()
const open = ref(false)
onMounted(jobs.follow)
const shown = computed(() => jobs.all.slice(0, 8))

function said(job: Job): string {
  const so = `${count(job.done)} of ${count(job.parts)}`
  if (job.state === 'waiting') return 'waits'
  if (job.state === 'running')
    return job.left === null ? so : `${so}, ${duration(Math.ceil(job.left))} left`
  if (job.state === 'failed') return `has failed: ${job.problem}`
  return job.state === 'done' ? 'done' : `stopped at ${so}`
}
</script>

<template>
  <span v-if="jobs.all.length" class="jobs">
    <button
      class="link"
      :aria-expanded="open"
      aria-controls="jobs-list"
      data-testid="jobs"
      @click="open = !open"
    >
      {{ jobs.live.length ? `${count(jobs.live.length)} at work` : 'Work done' }}
    </button>
    <section
      v-if="open"
      id="jobs-list"
      class="list"
      aria-label="Long work"
      @keydown.esc="open = false"
    >
      <p v-for="job in shown" :key="job.id" :class="{ over: !isLive(job) }">
        <span class="title">{{ job.title }}</span>
        <progress v-if="isLive(job)" :value="job.done" :max="job.parts" :aria-label="job.title" />
        <span class="said">{{ said(job) }}</span>
        <button
          v-if="isLive(job)"
          class="link"
          :aria-label="`Stop ${job.title}`"
          @click="jobs.stop(job.id)"
        >
          Stop
        </button>
      </p>
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
  padding: 8px 12px;
  background: var(--paper-raised);
  border: 1px solid var(--hair-strong);
  white-space: normal;
  font-size: 12.5px;
}
p {
  display: grid;
  grid-template-columns: 1fr 90px auto auto;
  gap: 8px;
  align-items: baseline;
  padding: 3px 0;
}
p.over {
  grid-template-columns: 1fr auto;
}
.said {
  color: var(--ink-quiet);
}
progress {
  width: 90px;
  accent-color: var(--brass);
}
</style>
