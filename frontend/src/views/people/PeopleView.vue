<script setup lang="ts">
import { computed, ref } from 'vue'

import CrowdChart from './CrowdChart.vue'
import DayPeaks from './DayPeaks.vue'
import YearMap from './YearMap.vue'
import { clock, count, fullDayName } from '@/ui/format'
import ProblemNote from '@/ui/ProblemNote.vue'
import ProgressNote from '@/ui/ProgressNote.vue'
import ChoiceRow from '@/parts/ChoiceRow.vue'
import { called } from '@/plan/called'
import { useWidth } from '@/ui/useWidth'
import PlanFrame from '@/views/frame/PlanFrame.vue'
import WeekPicker from '@/views/frame/WeekPicker.vue'

import AddGroup from './AddGroup.vue'
import DirectoryPanel from './DirectoryPanel.vue'
import EventSentences from './EventSentences.vue'
import GroupEditor from './GroupEditor.vue'
import GroupTable from './GroupTable.vue'
import PeopleColumn from './PeopleColumn.vue'
import SiteSentences from './SiteSentences.vue'
import { usePeople, type Mode } from './usePeople'

/** Who comes, when and how they leave: the whole week's demand, edited where it shows. */
defineProps<{ id: number }>()
const people = usePeople()
const { store, crowd, mode, group, zone } = people

const MODES: { value: Mode; text: string }[] = [
  { value: 'present', text: 'at work over the week' },
  { value: 'peaks', text: 'peak of each day' },
  { value: 'arrivals', text: 'logons in 5 minutes' },
  { value: 'year', text: 'the year' },
]
const frame = ref<HTMLElement>()
const width = useWidth(frame, 900)
const height = computed(() => Math.round(Math.max(220, Math.min(innerHeight * 0.31, 380))))

const answer = computed(() => crowd.answer)
const zones = computed(() => [...new Set(store.plan?.sites.map((s) => s.time_zone) ?? [])])
const peakDay = computed(() => {
  const at = answer.value
  if (!at) return ''
  const day = at.days.find((d) => at.peak.instant < at.start + d.last_bin * at.step)
  return day ? `${fullDayName(day.date)} at ${clock(at.peak.instant, at.zone)}` : ''
})
const known = (people: number | null) => (people === null ? '–' : count(people))
const makers = computed(() => answer.value?.peak.makers.slice(0, 3) ?? [])
const empty = computed(() => store.plan !== null && store.plan.groups.length === 0)
</script>

<template>
  <PlanFrame :id="id" view="people">
    <template #controls>
      <WeekPicker />
      <label v-if="zones.length > 1">
        clock
        <select
          class="text-box"
          :value="zone"
          data-testid="zone"
          @change="people.go({ zone: ($event.target as HTMLSelectElement).value })"
        >
          <option v-for="name in zones" :key="name" :value="name">{{ name }}</option>
        </select>
      </label>
      <button
        class="link"
        data-testid="open-directory"
        @click="people.go({ panel: 'directory', group: undefined })"
      >
        Directory
      </button>
    </template>
    <div v-if="store.plan" class="people">
      <main class="main">
        <ProblemNote v-if="crowd.problem" :problem="crowd.problem">
          <p v-if="answer">The picture shows the last plan that could be drawn.</p>
        </ProblemNote>
        <p v-if="answer && !empty" class="says" data-testid="peak-sentence">
          <template v-if="answer.peak.people">
            On <b>{{ peakDay }}</b>, <b>{{ count(answer.peak.people) }}</b> people want a desktop at
            once, of <b>{{ count(answer.headcount) }}</b> with a name<template v-if="crowd.range">
              (over {{ crowd.range.seeds }} such weeks {{ known(crowd.range.peak.low) }} to
              {{ known(crowd.range.peak.high) }} on average, and in 95 % of them at most
              <b>{{ count(crowd.range.high) }}</b>)</template
            >.
            <template v-for="(maker, k) in makers" :key="maker.group"
              >{{ k === 0 ? '' : k === makers.length - 1 ? ' and ' : ', '
              }}{{ called('groups', maker.group) }} {{ count(maker.people) }}</template
            >
            make most of it.
          </template>
          <template v-else>Nobody comes in this week.</template>
        </p>
        <ChoiceRow
          v-if="!empty"
          class="modes"
          label="What the picture shows"
          :options="MODES"
          :model-value="mode"
          @update:model-value="(v) => people.go({ show: v === 'present' ? undefined : v })"
        />
        <div ref="frame" class="picture" :aria-busy="crowd.busy" :data-fits="crowd.fits">
          <template v-if="answer && !empty">
            <YearMap
              v-if="mode === 'year' && crowd.year"
              :year="crowd.year"
              :first="people.first.value"
              :width="width"
              :height="height"
              @week="people.goWeek"
            />
            <div v-else-if="mode === 'year'" class="quiet wait">
              <p role="status">Drawing 365 days of {{ count(answer.headcount) }} people …</p>
              <ProgressNote
                v-if="crowd.yearProgress"
                :progress="crowd.yearProgress"
                what="stretches of four weeks drawn"
                @stop="crowd.stopYear"
              />
            </div>
            <DayPeaks
              v-else-if="mode === 'peaks'"
              :answer="answer"
              :chosen="group?.id ?? ''"
              :width="width"
              :height="height"
              @choose="(id) => people.go({ group: id, pattern: undefined })"
            />
            <CrowdChart
              v-else
              :answer="answer"
              :range="crowd.range"
              :mode="mode"
              :chosen="group?.id ?? ''"
              :headcount="answer.headcount"
              :width="width"
              :height="height"
              @choose="(id) => people.go({ group: id, pattern: undefined })"
            />
          </template>
          <p v-else-if="!empty && !crowd.problem" class="quiet wait">Drawing the week …</p>
        </div>
        <AddGroup v-if="empty" first :look="people.look" />
        <DirectoryPanel v-if="people.panel.value === 'directory'" :people="people" />
        <GroupEditor v-else-if="group" :people="people" :group="group" :width="width" />
        <template v-else-if="!empty">
          <GroupTable :plan="store.plan" :look="people.look" />
          <EventSentences :plan="store.plan" />
          <SiteSentences :plan="store.plan" :first="people.first.value" />
        </template>
      </main>
      <PeopleColumn v-if="answer && !empty" :people="people" :answer="answer" />
    </div>
  </PlanFrame>
</template>

<style scoped>
.people {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 316px;
  flex: 1;
  min-height: 0;
}
.main {
  min-width: 0;
  overflow-y: auto;
  padding-bottom: 24px;
}
.says {
  padding: 8px 16px 2px;
  font-size: 14.5px;
  line-height: 1.5;
  /* Two lines from the start: the range over many weeks comes later, and must not push away what
     is just being clicked. */
  box-sizing: content-box;
  min-height: 3em;
}
.modes {
  padding: 0 14px 2px;
}
.picture {
  min-height: 220px;
}
@media (min-width: 1700px) {
  .people {
    grid-template-columns: minmax(0, 1fr) 400px;
  }
}
@media (max-width: 900px) {
  .people {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
