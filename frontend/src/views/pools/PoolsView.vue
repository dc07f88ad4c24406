<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { useChecks } from '@/stores/checks'
import ChoiceRow from '@/parts/ChoiceRow.vue'
import NameToken from '@/parts/NameToken.vue'
import { nameOf } from '@/plan/called'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FindingNote from '@/ui/FindingNote.vue'
import ProblemNote from '@/ui/ProblemNote.vue'
import ProgressNote from '@/ui/ProgressNote.vue'
import EmptyView from '@/views/frame/EmptyView.vue'
import PlanFrame from '@/views/frame/PlanFrame.vue'

import { differencesOf } from './differences'
import DrillLine from './DrillLine.vue'
import KindsPanel from './KindsPanel.vue'
import PoolSentences from './PoolSentences.vue'
import PoolTable from './PoolTable.vue'
import SettingsTable from './SettingsTable.vue'
import { usePools } from './usePools'

/** Every pool beside the others, and the one looked at as sentences. */
const props = defineProps<{ id: number }>()
const pools = usePools()
const { store, pool, against, table } = pools
const checks = useChecks()

const SHOWS = [
  { value: 'figures', text: 'what the weeks say' },
  { value: 'settings', text: 'settings side by side' },
]
const route = useRoute()
const show = computed(() => (route.query.show === 'settings' ? 'settings' : 'figures'))

/** A table of fewer pools is there before anybody has read how far it is. */
const LONG = 12

const findings = computed(() => checks.about(pool.value?.id ?? ''))
const others = computed(() => [
  { value: '', text: 'no other pool' },
  ...(store.plan?.pools ?? [])
    .filter((p) => p.id !== pool.value?.id)
    .map((p) => ({ value: p.id, text: nameOf(p) })),
])
const differences = computed(() =>
  pool.value && against.value
    ? differencesOf(against.value, pool.value).filter((d) => !['id', 'name'].includes(d.field))
    : [],
)
const zones = computed(() => pools.rows.value.find((p) => p.id === pool.value?.id)?.zones ?? [])
const stopped = computed(
  () => !table.busy.value && !table.problem.value && !table.answer.value && table.asked.value,
)
const to = (name: string) => ({
  name,
  params: { id: props.id },
  query: { pool: pool.value?.id },
})
</script>

<template>
  <PlanFrame :id="id" view="pools">
    <EmptyView v-if="store.plan && !store.plan.pools.length" :id="id" view="pools" />
    <main
      v-else-if="store.plan"
      class="pools"
      :aria-busy="table.busy.value"
      :data-fits="table.fits.value"
    >
      <ProblemNote v-if="table.problem.value" :problem="table.problem.value" />
      <!-- In one row, so that nothing moves when the answer comes. -->
      <div class="top">
        <ChoiceRow
          label="What the table shows"
          :options="SHOWS"
          :model-value="show"
          @update:model-value="(v) => pools.go({ show: v === 'figures' ? undefined : v })"
        />
        <ProgressNote
          v-if="table.progress.value && (!table.answer.value || table.progress.value.of > LONG)"
          :progress="table.progress.value"
          what="pools simulated"
          @stop="table.stop"
        />
      </div>
      <PoolTable v-if="show === 'figures'" :pools="pools" />
      <SettingsTable
        v-else
        :plan="store.plan"
        @made="(id) => pools.go({ pool: id })"
        @gone="pools.go({ pool: undefined, against: undefined })"
      />
      <p v-if="stopped" class="quiet" role="status">
        Stopped: not every pool is simulated.
        <button class="link" @click="table.ask(store.plan)">Simulate them all</button>
      </p>
      <template v-if="pool">
        <p class="act">
          <NameToken what="pool" :part="pool" />
          <RouterLink :to="to('hosts')">Its hosts and their limit</RouterLink>
          <RouterLink :to="to('board')">Its week</RouterLink>
          <button class="link" data-testid="copy-pool" @click="pools.copy">Copy it</button>
          <button class="link" @click="pools.remove">Remove it</button>
          <button class="link" data-testid="add-pool" @click="pools.add">Add a pool</button>
          <span>
            Compared with
            <ChoiceToken
              label="Pool to compare with"
              :options="others"
              :model-value="against?.id ?? ''"
              @update:model-value="(v) => pools.go({ against: v || undefined })"
            />
          </span>
        </p>
        <div v-if="against" class="compared" data-testid="differences">
          <p v-if="!differences.length">Nothing differs from {{ nameOf(against) }} but the name.</p>
          <p v-for="each in differences" v-else :key="each.field">
            <span class="quiet">{{ each.field.replaceAll('_', ' ').replaceAll('.', ': ') }}</span>
            {{ each.one }} → <b>{{ each.other }}</b>
          </p>
        </div>
        <PoolSentences :pools="pools" :plan="store.plan" :pool="pool" :zones="zones" />
        <!-- Below what is edited: a finding that comes must not push that away. -->
        <section v-if="findings.length" aria-label="Findings about the pool">
          <h3>Found</h3>
          <FindingNote
            v-for="finding in findings"
            :key="finding.check + finding.pointer + finding.message"
            :finding="finding"
          />
        </section>
        <DrillLine :plan="store.plan" :pool="pool" :zones="zones" />
        <KindsPanel :plan="store.plan" :pool="pool" />
      </template>
    </main>
  </PlanFrame>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 24px;
  min-height: 28px;
}
.pools {
  overflow-y: auto;
  padding: 8px 16px 32px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.act {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: baseline;
  border-top: 1px solid var(--hair-strong);
  padding-top: 8px;
}
.act a {
  color: var(--ink);
}
.compared {
  columns: 3;
  column-gap: 24px;
  border-left: 3px solid var(--brass-line);
  padding-left: 10px;
  font-variant-numeric: tabular-nums;
}
</style>
