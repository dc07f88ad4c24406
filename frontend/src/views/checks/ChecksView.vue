<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute, useRouter } from 'vue-router'

import { useChecks } from '@/stores/checks'
import ChoiceRow from '@/parts/ChoiceRow.vue'
import { usePlan } from '@/plan/store'
import FindingNote from '@/ui/FindingNote.vue'
import ProblemNote from '@/ui/ProblemNote.vue'
import ProgressNote from '@/ui/ProgressNote.vue'
import EmptyView from '@/views/frame/EmptyView.vue'
import PlanFrame from '@/views/frame/PlanFrame.vue'

import AssumedList from '@/views/frame/AssumedList.vue'
import { routeTo } from '@/views/frame/places'

/** Everything that would make a build or a morning fail, in one list. */
const props = defineProps<{ id: number }>()
const store = usePlan()
const checks = useChecks()
const route = useRoute()
const router = useRouter()

/** Fewer steps are done before anybody has read how far they are. */
const LONG = 30

const family = computed(() => (typeof route.query.about === 'string' ? route.query.about : ''))
const shown = computed(() =>
  checks.findings.filter((each) => !family.value || each.family === family.value),
)
const families = computed(() => [
  { value: '', text: 'all' },
  ...(checks.answer?.families ?? []).map(({ id, about, found }) => ({
    value: id,
    text: `${about.charAt(0).toLowerCase()}${about.slice(1)} (${found})`,
    disabled: !found,
  })),
])
const doubts = computed(() => checks.findings.length - checks.harms)
const to = (pointer: string) => {
  if (!store.plan) return { name: 'hosts', params: { id: props.id } }
  return { ...routeTo(store.plan, pointer), params: { id: props.id } }
}
function choose(id: string): void {
  void router.replace({ query: { ...route.query, about: id || undefined } })
}
</script>

<template>
  <PlanFrame :id="id" view="checks">
    <EmptyView
      v-if="store.plan && !store.plan.pools.length && !checks.findings.length"
      :id="id"
      view="checks"
    />
    <main v-else-if="store.plan" class="checks" :aria-busy="checks.busy">
      <ProblemNote v-if="checks.problem" :problem="checks.problem" />
      <ProgressNote
        v-if="checks.progress && checks.progress.of > LONG"
        :progress="checks.progress"
        what="steps of the checks"
        @stop="checks.stop"
      />
      <template v-if="checks.answer">
        <p class="says" data-testid="checks-sentence" role="status">
          <template v-if="checks.findings.length">
            <b :class="{ bad: checks.harms }">{{ checks.harms }}</b> of
            {{ checks.findings.length }} findings would make a build or a morning fail<template
              v-if="doubts"
              >; {{ doubts }} {{ doubts === 1 ? 'makes' : 'make' }} a figure less true than it
              looks</template
            >.
          </template>
          <template v-else>Nothing was found that would make a build or a morning fail.</template>
        </p>
        <ChoiceRow
          class="families"
          label="Which checks"
          :options="families"
          :model-value="family"
          @update:model-value="choose"
        />
        <FindingNote
          v-for="finding in shown"
          :key="finding.check + finding.pointer + finding.message"
          :finding="finding"
          where
          class="row"
        >
          <RouterLink :to="to(finding.pointer)" class="show">Show it</RouterLink>
        </FindingNote>
      </template>
      <p v-else-if="!checks.problem" class="quiet">Checking the plan …</p>
      <AssumedList v-if="store.plan.assumed?.length" :id="id" class="assumed" />
    </main>
  </PlanFrame>
</template>

<style scoped>
.checks {
  overflow-y: auto;
  padding: 8px 16px 24px;
  max-width: 1080px;
}
.says {
  font-size: 14.5px;
}
.families {
  padding: 2px 0 8px;
  border-bottom: 1px solid var(--hair-strong);
}
.row {
  border-bottom: 1px solid var(--hair);
}
.show {
  color: var(--ink);
}
.assumed {
  margin-top: 20px;
}
</style>
