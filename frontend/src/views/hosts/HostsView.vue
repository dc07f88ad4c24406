<script setup lang="ts">
import { computed, ref } from 'vue'

import DensityPicture from './DensityPicture.vue'
import { RESOURCE_NAMES } from './density'
import { called, nameOf } from '@/plan/called'
import { useChecks } from '@/stores/checks'
import FindingNote from '@/ui/FindingNote.vue'
import { count, counted, meanOf, money } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'
import { promised, sayPart, STANDING_LOOK } from '@/ui/promise'
import { useWidth } from '@/ui/useWidth'
import EmptyView from '@/views/frame/EmptyView.vue'
import PlanFrame from '@/views/frame/PlanFrame.vue'
import PoolPicker from '@/views/frame/PoolPicker.vue'

import AskLine from './AskLine.vue'
import HostTables from './HostTables.vue'
import OtherPrices from './OtherPrices.vue'
import PlacesPanel from './PlacesPanel.vue'
import PricePanel from './PricePanel.vue'
import SizeSentence from './SizeSentence.vue'
import SizeTable from './SizeTable.vue'
import { useHosts } from './useHosts'
import WorkloadSentences from './WorkloadSentences.vue'

/** What a host bears and what binds first; the session limit and the size chosen on the picture. */
defineProps<{ id: number }>()
const hosts = useHosts()
const { store, pool, answer, size, limit, needed, sizing, check, checked } = hosts
const checks = useChecks()

const frame = ref<HTMLElement>()
const width = useWidth(frame, 860)
const height = computed(() => Math.round(Math.max(230, Math.min(innerHeight * 0.34, 420))))
const other = computed(() => size.value && size.value.id !== pool.value?.size)
const slack = computed(() =>
  Object.entries(size.value?.slack ?? {})
    .filter(([name, left]) => name !== size.value?.binding && left > 0)
    .sort((a, b) => a[1] - b[1])
    .slice(0, 2)
    .map(([name, left]) => `${RESOURCE_NAMES[name as 'cpu']} has ${count(left * 100)} % left`),
)
const findings = computed(() =>
  checks.about(pool.value?.id ?? '', 'size', 'session_limit', 'hosts'),
)
</script>

<template>
  <PlanFrame :id="id" view="hosts">
    <template #controls>
      <PoolPicker
        :pool="pool?.id"
        @choose="
          (id) => hosts.go({ pool: id, group: undefined, size: undefined, active: undefined })
        "
      />
    </template>
    <div v-if="store.plan && pool" class="hosts">
      <main class="main" :aria-busy="sizing.busy.value" :data-fits="sizing.fits.value">
        <ProblemNote v-if="sizing.problem.value" :problem="sizing.problem.value" />
        <template v-if="answer && size">
          <p class="says" data-testid="sizing-sentence">
            At most <b>{{ count(answer.peak.value) }}</b> sessions at once<template
              v-if="answer.people"
            >
              of <b>{{ count(answer.people) }}</b> people</template
            >. On <b>{{ called('sizes', size.id) }}</b>
            <template v-if="size.missing">nobody can work: {{ size.missing }}.</template>
            <template v-else>
              a host bears <b>{{ size.sessions }}</b>: {{ RESOURCE_NAMES[size.binding] }} binds
              first<template v-if="slack.length">; at the limit {{ slack.join(' and ') }}</template
              >. With <b>{{ limit }}</b> on each, <b>{{ count(needed) }}</b> hosts hold the peak;
              this pool has {{ count(answer.most_hosts)
              }}<template v-if="answer.lacking">
                and
                <b class="bad"
                  >{{ counted(answer.lacking, 'person', 'people') }} find no room</b
                ></template
              ><template v-if="answer.after_loss !== null"
                >, and holds {{ counted(answer.after_loss, 'session') }} without one of its
                {{ answer.zones.length }} zones</template
              >.
            </template>
          </p>
          <AskLine :hosts="hosts" />
          <div ref="frame" class="picture">
            <DensityPicture
              :size="size"
              :limit="limit"
              :fixed="answer.kind !== 'shared'"
              :width="width"
              :height="height"
              @limit="hosts.setLimit"
              @cancel="hosts.cancel"
            />
          </div>
          <p class="act">
            <button
              class="link"
              data-testid="simulate"
              :disabled="check.busy.value"
              @click="hosts.simulate"
            >
              Simulate {{ count(needed) }} {{ needed === 1 ? 'host' : 'hosts' }} of
              {{ called('sizes', size.id) }} with {{ limit }}
              {{ limit === 1 ? 'session' : 'sessions' }} each
            </button>
            <button
              v-if="other || needed !== answer.most_hosts"
              class="link"
              data-testid="take"
              @click="hosts.take"
            >
              Take them into the plan
            </button>
            <span v-if="check.busy.value" class="quiet">simulating 4 weeks …</span>
            <span v-else-if="checked" class="result" role="status" data-testid="checked">
              {{ checked.figures.seeds }} weeks:
              <template v-for="part in promised(checked.verdicts)" :key="part.field">
                {{ part.head.toLowerCase() }}
                <b :class="STANDING_LOOK[checked.verdicts[part.field].standing]">{{
                  meanOf(checked.verdicts[part.field].figure, sayPart(part), part.nobody)
                }}</b>,
              </template>
              {{ money(checked.figures.cost.month, answer.currency) }} a month
            </span>
          </p>
          <ProblemNote v-if="check.problem.value" :problem="check.problem.value" />
          <div class="pad"><SizeTable :hosts="hosts" /></div>
          <SizeSentence :hosts="hosts" :plan="store.plan" />
          <WorkloadSentences :hosts="hosts" :plan="store.plan" />
          <!-- Below what is edited: a finding that comes must not push that away. -->
          <div v-if="findings.length" class="pad">
            <FindingNote v-for="f in findings" :key="f.check + f.pointer" :finding="f" />
          </div>
          <HostTables :plan="store.plan" />
          <OtherPrices :plan="store.plan" />
        </template>
        <p v-else-if="!sizing.problem.value" class="quiet wait">Drawing {{ nameOf(pool) }} …</p>
      </main>
      <aside class="side">
        <PlacesPanel :hosts="hosts" />
        <PricePanel :plan="store.plan" />
      </aside>
    </div>
    <EmptyView v-else-if="store.plan" :id="id" view="hosts" />
  </PlanFrame>
</template>

<style scoped>
.hosts {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 296px;
  flex: 1;
  min-height: 0;
}
.main {
  min-width: 0;
  overflow-y: auto;
  padding-bottom: 24px;
}
.side {
  border-left: 1px solid var(--hair-strong);
  padding: 10px 14px;
  overflow-y: auto;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.says {
  padding: 8px 16px 0;
  font-size: 14.5px;
}
.act {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
  padding: 0 16px 6px;
}
.pad {
  padding: 2px 16px 6px;
}
.risk {
  color: var(--brass);
}
@media (min-width: 1700px) {
  .hosts {
    grid-template-columns: minmax(0, 1fr) 380px;
  }
}
@media (max-width: 900px) {
  .hosts {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
