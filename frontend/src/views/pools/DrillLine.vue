<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import { api, type DrillAnswer, type DrillBody, type Plan, type Pool } from '@/api/client'
import DECLARED from '@/api/declared.json'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { about } from '@/ask/send'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import { WEEKDAYS, count, duration, meanOf, share } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'
import ValueToken from '@/ui/ValueToken.vue'

/** What if hosts fail: a zone, or some of them, at a time of the week. */
const props = defineProps<{ plan: Plan; pool: Pool; zones: string[] }>()
const day = ref('1')
const clock = ref('11:00')
const minutes = ref(120)
const what = ref('hosts')
const hosts = ref(1)
const KINDS = DECLARED.drills.map(({ id, does }) => ({ value: id, text: does }))
const kind = ref(KINDS[0]?.value ?? '')
const WHAT = computed(() => [
  { value: 'hosts', text: 'hosts' },
  ...(props.zones.length > 1 ? props.zones : []).map((zone, k) => ({
    value: String(k),
    text: `all of ${zone}`,
  })),
])
const DAYS = WEEKDAYS.map((name, k) => ({ value: String(k), text: name }))

type Failure = Pick<DrillBody, 'day' | 'minute' | 'minutes' | 'zone' | 'hosts' | 'kind'>
/** What the sentence says. */
function failure(): Failure {
  const [hour, minute] = clock.value.split(':').map(Number)
  return {
    day: Number(day.value),
    minute: (hour ?? 0) * 60 + (minute ?? 0),
    minutes: minutes.value,
    zone: what.value === 'hosts' ? null : Number(what.value),
    hosts: hosts.value,
    kind: kind.value as Failure['kind'],
  }
}
const asked = useQuestion<{ plan: Plan; pool: string } & Failure, DrillAnswer>(
  (wish, call) => api.POST('/api/pools/drill', about(wish, call)),
  { key: ({ plan, pool, ...what }) => keyOf(plan, pool, JSON.stringify(what)) },
)
watch([() => props.plan, () => props.pool.id, day, clock, minutes, what, hosts, kind], () =>
  asked.forget(),
)
watch(
  () => props.pool.id,
  () => (what.value = 'hosts'),
)
const answer = computed(() => asked.answer.value)
const p95 = (found: DrillAnswer['calm']) => meanOf(found.wait_seconds.p95, duration)
</script>

<template>
  <section data-testid="drill">
    <h3>What if hosts fail</h3>
    <p>
      On <ChoiceToken v-model="day" label="Day of the drill" :options="DAYS" /> at
      <ValueToken
        kind="clock"
        label="Time of the drill"
        :model-value="clock"
        @update:model-value="(v) => (clock = String(v))"
      />,
      <template v-if="what === 'hosts'">
        <ValueToken
          label="Hosts that fail"
          path="DrillBody.hosts"
          :model-value="hosts"
          @update:model-value="(v) => (hosts = Number(v))"
        />{{ ' ' }}</template
      ><template v-else> </template>
      <ChoiceToken v-model="what" label="What fails" :options="WHAT" />{{ ' ' }}
      <ChoiceToken v-model="kind" label="What befalls them" :options="KINDS" /> for
      <ValueToken
        label="Length of the failure"
        unit="min"
        path="DrillBody.minutes"
        :model-value="minutes"
        @update:model-value="(v) => (minutes = Number(v))"
      />.
      <button
        class="link"
        data-testid="ask-drill"
        :disabled="asked.busy.value"
        @click="asked.ask({ plan, pool: pool.id, ...failure() })"
      >
        See that week
      </button>
    </p>
    <ProblemNote v-if="asked.problem.value" :problem="asked.problem.value" />
    <p v-if="answer" role="status" data-testid="drilled">
      {{ count(answer.failed) }} {{ answer.told }}; at most <b :class="{ bad: answer.most_waiting }">{{ count(answer.most_waiting) }}</b> waited
      at once afterwards. Over the week 95 % of logons took {{ p95(answer.drilled) }} in place of
      {{ p95(answer.calm) }}, {{ meanOf(answer.drilled.refused_share, share) }} were refused in
      place of {{ meanOf(answer.calm.refused_share, share) }}.
    </p>
  </section>
</template>
