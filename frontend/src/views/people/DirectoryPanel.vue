<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'

import { api, type Behind, type Plan } from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { sent } from '@/ask/send'
import { numbersOf } from '@/help/hints'
import { called } from '@/plan/called'
import { useDirectory } from '@/stores/directory'
import { count } from '@/ui/format'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import ProblemNote from '@/ui/ProblemNote.vue'

import ImportPreview from './ImportPreview.vue'
import type { usePeople } from './usePeople'

/** The directory beside the plan: who is counted, who is not, and what a new file would change. */
const props = defineProps<{ people: ReturnType<typeof usePeople> }>()
const directory = useDirectory()
const DAY = numbersOf('StandInBody.day')
const day = ref(1)
const format = ref('')

onMounted(() => void directory.load())
onBeforeUnmount(() => directory.stop())

const plan = computed(() => props.people.store.plan as Plan)
const followers = computed(() => {
  const found = new Map<string, string[]>()
  for (const group of plan.value.groups) {
    if (group.demand.kind !== 'headcount' || !group.demand.follows) continue
    found.set(group.demand.follows, [...(found.get(group.demand.follows) ?? []), group.id])
  }
  return found
})
/** A group counts as planned too where every group that it holds is. */
function plannedAs(group: { key: string; holds: string[] }): string {
  const own = followers.value.get(group.key)
  if (own) return own.map((id) => called('groups', id)).join(', ')
  if (group.holds.length && group.holds.every((key) => followers.value.has(key))) {
    return 'through the groups it holds'
  }
  return ''
}
const rows = computed(() =>
  (directory.held?.groups ?? []).map((group) => ({ ...group, planned: plannedAs(group) })),
)
const choices = computed(() => [
  { value: '', text: 'no directory' },
  ...directory.all.map((each) => ({ value: `${each.id}`, text: each.name })),
])
/** The other plans that have the same directory. */
const sharers = computed(() => {
  const own = directory.all.find((each) => each.id === directory.held?.id)
  const others = own?.plans.filter((name) => name !== plan.value.name) ?? []
  return others.length ? `, shared with ${others.join(', ')}` : ''
})
const unplanned = computed(() => rows.value.filter((row) => row.planned === ''))
/** Groups of the plan that the directory counts otherwise. */
const follower = useQuestion<{ plan: Plan; held: object }, { behind: Behind[] }>(
  (wish, call) =>
    api.POST('/api/directory/behind', {
      params: directory.of(),
      ...sent({ plan: wish.plan }, call.signal),
    }),
  { key: (wish) => keyOf(wish.plan, wish.held), urgent: () => true },
)
watch([plan, () => directory.held], ([now, held]) => held && follower.ask({ plan: now, held }), {
  immediate: true,
})
const behind = computed(() => follower.answer.value?.behind ?? [])
const problem = computed(() => directory.problem ?? follower.problem.value)

async function take(): Promise<void> {
  const found = await props.people.store.change((plan) =>
    api.POST('/api/directory/take', { params: directory.of(), ...sent({ plan }) }),
  )
  directory.problem = found.problem
}

const ENDINGS: Record<string, string> = {
  csv: 'csv',
  ldif: 'ldif',
  ldf: 'ldif',
  json: 'scim',
  scim: 'scim',
  jsonl: 'scim',
}
function choose(event: Event): void {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  if (!file) return
  const ending = file.name.split('.').at(-1)?.toLowerCase() ?? ''
  void directory.send(file, format.value || ENDINGS[ending] || 'csv')
  input.value = ''
}
</script>

<template>
  <section class="directory" data-testid="directory">
    <header>
      <h2>Directory</h2>
      <p v-if="directory.held">
        <template v-if="choices.length > 1">
          <ChoiceToken
            label="Directory of the plan"
            :options="choices"
            :model-value="`${directory.held.id ?? ''}`"
            @update:model-value="(id) => directory.share(id ? Number(id) : null)"
          />{{ sharers }}:
        </template>
        <b>{{ count(directory.held.people) }}</b> people; {{ count(directory.held.in_several) }} are
        in several groups, {{ count(directory.held.in_none) }} in none.
        <template v-if="unplanned.length">
          Nobody plans for
          {{ unplanned.map((row) => `${row.key} (${count(row.people)})`).join(', ') }}.
        </template>
      </p>
      <button class="link close" @click="people.go({ panel: undefined })">Close</button>
    </header>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="behind.length" role="status" class="behind" data-testid="behind">
      <template v-for="(each, k) in behind" :key="each.group"
        >{{ k ? '; ' : '' }}{{ called('groups', each.group) }} has
        {{ each.now === null ? 'no such group any more' : `${count(each.now)} people` }}, the plan
        {{ count(each.was) }}</template
      >.
      <button class="link" data-testid="take" @click="take">Take the directory's numbers</button>
    </p>
    <p class="ask">
      Read a file
      <select v-model="format" class="text-box" aria-label="Format of the file">
        <option value="">by its ending</option>
        <option value="csv">CSV</option>
        <option value="ldif">LDIF</option>
        <option value="scim">SCIM JSON</option>
      </select>
      <label class="file">
        choose …
        <input
          type="file"
          class="visually-hidden"
          aria-label="A directory file"
          data-testid="directory-file"
          :disabled="directory.working || directory.sent !== null"
          @change="choose"
        />
      </label>
      or ask the simulated directory as of day
      <input
        v-model.number="day"
        class="day text-box"
        type="number"
        :min="DAY.low"
        :max="DAY.high"
        aria-label="Day"
      />
      <button
        class="link"
        data-testid="ask-stand-in"
        :disabled="directory.working"
        @click="directory.askStandIn(day)"
      >
        Ask
      </button>
    </p>
    <p v-if="directory.sent !== null" role="status">
      Sending the file: {{ count(directory.sent * 100) }} %
    </p>
    <ImportPreview
      v-if="directory.latest"
      :latest="directory.latest"
      :working="directory.working"
      @decide="directory.decide"
    />
    <table v-if="rows.length" class="groups">
      <thead>
        <tr>
          <th scope="col">Directory group</th>
          <th scope="col" class="n">people</th>
          <th scope="col">holds</th>
          <th scope="col">planned as</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.key" :class="{ unplanned: !row.planned }">
          <td>{{ row.key }}</td>
          <td class="n">{{ count(row.people) }}</td>
          <td>{{ row.holds.join(', ') }}</td>
          <td>{{ row.planned || 'nobody plans for them' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="directory.held?.id === null" class="quiet">
      This plan has no directory. A file that is read makes one of its own.
      <template v-if="directory.all.length">Or it shares one with another plan.</template>
    </p>
    <p v-else-if="directory.held && rows.length === 0" class="quiet">The directory is empty.</p>
  </section>
</template>

<style scoped>
.directory {
  border-top: 1px solid var(--hair-strong);
  margin-top: 6px;
  padding: 6px 16px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 14px;
}
h2 {
  font-size: 15px;
  font-weight: 650;
}
.close {
  margin-left: auto;
}
.behind {
  background: var(--brass-wash);
  padding: 3px 8px;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 6px;
  margin: 4px 0;
}
.file {
  cursor: pointer;
  text-decoration: underline;
  text-decoration-color: var(--hair-strong);
  text-underline-offset: 3px;
}
.file:focus-within {
  outline: 2px solid var(--focus);
}
option {
  background: var(--paper-raised);
}
.day {
  width: 48px;
}
.groups {
  border-collapse: collapse;
  width: 100%;
  margin-top: 8px;
}
th {
  font-weight: 500;
  font-size: 12px;
  color: var(--ink-quiet);
  text-align: left;
}
td {
  border-bottom: 1px solid var(--hair);
  padding: 1px 12px 1px 0;
}
th.n,
td.n {
  text-align: right;
  width: 80px;
  padding-right: 16px;
}
.unplanned td {
  color: var(--buoy);
}
</style>
