<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { KindsAnswer, Plan, Pool } from '@/api/client'
import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { useQuestion } from '@/ask/question'
import { named } from '@/ask/send'
import { called } from '@/plan/called'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { count, duration, meanOf, money, share, words } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'

/** One group of the pool as each kind of desktop, simulated side by side, and the one to take. */
const props = defineProps<{ plan: Plan; pool: Pool }>()
const groups = computed(() => [
  ...new Set(props.plan.access.filter((e) => e.pool === props.pool.id).map((e) => e.group)),
])
const chosen = ref('')
const group = computed(() =>
  groups.value.includes(chosen.value) ? chosen.value : (groups.value[0] ?? ''),
)
const asked = useQuestion<{ plan: Plan; pool: string; group: string }, KindsAnswer>(
  (wish, call) => inParts<KindsAnswer>('/api/hosts/kinds/parts', { ...wish, ...named(call) }, call),
  { key: (wish) => keyOf(wish.plan, wish.pool, wish.group) },
)
watch([() => props.plan, () => props.pool.id, group], () => asked.forget())
const answer = computed(() => asked.answer.value)
</script>

<template>
  <section data-testid="kinds">
    <h3>Which kind</h3>
    <p v-if="groups.length">
      <button
        class="link"
        data-testid="ask-kinds"
        :disabled="asked.busy.value"
        @click="asked.ask({ plan, pool: pool.id, group })"
      >
        Compare the kinds
      </button>
      for
      <ChoiceToken
        :model-value="group"
        label="Group to compare the kinds for"
        :options="groups.map((g) => ({ value: g, text: called('groups', g) }))"
        @update:model-value="(v) => (chosen = v)"
      />
      <span v-if="asked.busy.value" class="quiet" role="status">
        simulating 4 weeks of each: {{ asked.progress.value?.done ?? 0 }} of 3 …
      </span>
    </p>
    <p v-else>Nobody may open this pool.</p>
    <ProblemNote v-if="asked.problem.value" :problem="asked.problem.value" />
    <template v-if="answer">
      <table class="lines">
        <thead>
          <tr>
            <th scope="col">Kind</th>
            <th scope="col">Hosts</th>
            <th scope="col" class="num">Month</th>
            <th scope="col" class="num">95 % wait</th>
            <th scope="col" class="num">Comfort</th>
            <th scope="col">For people</th>
            <th scope="col">Lost at sign-off</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="kind in answer.kinds"
            :key="kind.kind"
            :class="{ on: kind.kind === answer.suggested }"
          >
            <th scope="row">{{ words(kind.kind) }}</th>
            <template v-if="kind.figures">
              <td>
                {{ count(kind.hosts) }} of {{ called('sizes', kind.size ?? '') }}, {{ kind.session_limit }} on
                each
              </td>
              <td class="num">{{ money(kind.figures.cost.month, answer.currency) }}</td>
              <td class="num" :class="kind.keeps_promise ? 'good' : 'bad'">
                {{ kind.keeps_promise ? '✓' : '✕' }} {{ meanOf(kind.figures.wait_seconds.p95, duration) }}
              </td>
              <td class="num">{{ meanOf(kind.figures.comfort, share) }}</td>
            </template>
            <td v-else colspan="4" class="quiet">{{ kind.barred }}</td>
            <td>{{ kind.isolation }}</td>
            <td>{{ kind.lost }}</td>
          </tr>
        </tbody>
      </table>
      <p>
        <template v-if="answer.suggested"
          >Take <b>{{ answer.suggested }}</b>: </template
        >{{ answer.why }}. All under the same simple rules: hosts stop when empty, a fifth of the
        peak kept open.
      </p>
    </template>
  </section>
</template>

<style scoped>
.lines tr.on th {
  font-weight: 650;
}
.lines tr.on {
  background: var(--lichen-wash);
}
</style>
