<script setup lang="ts">
import { ref, watch } from 'vue'

import type { WaitersAnswer, WeekAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { called } from '@/plan/called'
import { waitersOf, type Shown } from '@/water/kept'
import { clock, counted, duration } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

/** Who did not have a desktop at once in a stretch of time, and why. */
const props = defineProps<{
  week: WeekAnswer
  /** What the week was simulated of. */
  of: Shown['of']
  window: { start: number; end: number } | null
}>()
const emit = defineEmits<{ close: [] }>()

interface Wish extends Shown {
  start: number
  end: number
}
const found = useQuestion<Wish, WaitersAnswer>(
  ({ hash, of, start, end }, call) => waitersOf({ hash, of }, { start, end }, call),
  { key: (wish) => keyOf(wish.hash, wish.start, wish.end), urgent: () => true },
)
const { answer, problem } = found
const copied = ref(false)
watch(
  () => props.window,
  (window) => {
    found.forget()
    copied.value = false
    if (window) found.ask({ hash: props.week.input_hash, of: props.of, ...window })
  },
  { immediate: true },
)

async function copy(): Promise<void> {
  const rows = (answer.value?.waiters ?? []).map((w) =>
    [clock(w.asked, props.week.zone), w.group, w.person, w.seconds ?? '', w.refused, w.text].join(
      ',',
    ),
  )
  await navigator.clipboard.writeText(
    ['asked,group,person,seconds,refused,why', ...rows].join('\n'),
  )
  copied.value = true
}
</script>

<template>
  <ElDialog
    :model-value="window !== null"
    title="Who waited, and why"
    width="720px"
    align-center
    data-testid="waiters"
    @update:model-value="emit('close')"
  >
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-else-if="!answer" class="quiet">Looking …</p>
    <template v-else>
      <p>
        {{ counted(answer.total, 'person', 'people') }} did not have a desktop at once<template
          v-if="answer.waiters.length < answer.total"
          >; the {{ answer.waiters.length }} longest waits:</template
        ><template v-else>.</template>
      </p>
      <div class="frame" tabindex="0" role="region" aria-label="People who waited">
        <table>
          <thead>
            <tr>
              <th>Asked</th>
              <th>Who</th>
              <th class="number">Waited</th>
              <th>Host</th>
              <th>Because</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="w in answer.waiters" :key="`${w.group}${w.person}${w.asked}`">
              <td>{{ clock(w.asked, week.zone) }}</td>
              <td>{{ called('groups', w.group) }} {{ w.person }}</td>
              <td class="number">
                <b v-if="w.refused" class="harm">refused</b>
                <template v-else-if="w.seconds !== null">{{ duration(w.seconds) }}</template>
                <template v-else>still waits</template>
              </td>
              <td>{{ w.host ?? '–' }}</td>
              <td>{{ w.text }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
    <template #footer>
      <ElButton :disabled="!answer" @click="copy">{{ copied ? 'Copied' : 'Copy as CSV' }}</ElButton>
      <ElButton type="primary" @click="emit('close')">Close</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.frame {
  max-height: 50vh;
  overflow: auto;
  margin-top: 8px;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
th {
  text-align: left;
  position: sticky;
  top: 0;
  background: var(--paper-raised);
  border-bottom: 1px solid var(--ink);
}
td {
  border-bottom: 1px solid var(--hair);
  padding: 2px 8px 2px 0;
}
.number {
  text-align: right;
  padding-right: 16px;
}
.harm {
  color: var(--buoy);
}
</style>
