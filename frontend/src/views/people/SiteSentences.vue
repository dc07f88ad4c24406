<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, type Plan, type Problem, type Site } from '@/api/client'
import { told } from '@/ask/told'
import { useZones } from '@/help/zones'
import NameToken from '@/parts/NameToken.vue'
import PartActs from '@/parts/PartActs.vue'
import { addPart } from '@/parts/parts'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import FileToken from '@/ui/FileToken.vue'
import NamesToken from '@/ui/NamesToken.vue'
import ProblemNote from '@/ui/ProblemNote.vue'
import { tableRows, type Column } from '@/table/columns'
import PartTable from '@/table/PartTable.vue'
import { daysLater } from '@/views/frame/useWeek'

/** Sites: their clocks and the days on which they rest. */
const props = defineProps<{ plan: Plan; first: string }>()

const zones = useZones()
const store = usePlan()
const countries = shallowRef<Record<string, string[]>>({})
const problem = shallowRef<Problem | null>(null)
const read = ref('')
onMounted(async () => {
  const answer = await told(api.GET('/api/people/countries'))
  problem.value = answer.problem
  if (answer.data) countries.value = answer.data.countries
})
const named = new Intl.DisplayNames(['en'], { type: 'region' })
const options = computed(() => [
  { value: '', text: 'no country' },
  ...Object.keys(countries.value)
    .filter((code) => code.length === 2)
    .map((code) => ({ value: code, text: named.of(code) ?? code }))
    .sort((a, b) => a.text.localeCompare(b.text)),
])
const regions = (site: Site) =>
  (countries.value[site.holidays.country ?? ''] ?? []).map((r) => ({ value: r, text: r }))

const sites = computed(() => tableRows(PLAN.at('sites').rows(props.plan)))
const ownDays = (site: string) =>
  PLAN.at('sites').item(site).at('holidays').at('own').rows(props.plan)
const COLUMNS: Column[] = [
  { field: 'time_zone', head: 'Time zone', kind: 'text' },
  { field: 'together.attendance_cv', head: 'Attendance differs by', scale: 100, unit: '%' },
  { field: 'together.shift_sd_minutes', head: 'Starts differ by', unit: 'min' },
]
function setCountry(site: string, country: string): void {
  void store.apply({ verb: 'set-country', site, country: country || null })
}
async function take(to: string, file: File): Promise<void> {
  const still = store.here()
  const text = await file.text()
  const body = {
    text,
    first: daysLater(props.first, -366),
    last: daysLater(props.first, 3 * 366),
  }
  const answer = await told(api.POST('/api/people/calendar', { body }))
  if (!still()) return
  problem.value = answer.problem
  if (!answer.data) return
  const { days, skipped } = answer.data
  const rests = PLAN.at('sites').item(to).at('holidays').at('own')
  const known = new Set((rests.read(props.plan) ?? []).map((own) => own.day))
  const added = days.filter(({ day }) => !known.has(day)).length
  if (!(await store.apply({ verb: 'take-rest-days', site: to, days })) || !still()) return
  read.value =
    `${file.name}: ${days.length} dates, ${added} of them new` +
    (skipped.length ? `; left out: ${skipped.slice(0, 3).join('; ')}` : '')
}
</script>

<template>
  <section data-testid="sites">
    <h2>Sites, their clocks and holidays</h2>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="read" role="status">{{ read }}</p>
    <datalist id="site-zones"><option v-for="zone in zones" :key="zone" :value="zone" /></datalist>
    <PartTable label="Sites" head="Site" :columns="COLUMNS" :rows="sites">
      <template #name="{ row }"><NameToken what="site" :part="row.part" /></template>
      <template #open="{ row }">
        <PlanPart :of="row.at">
        {{ row.name }} lives by
        <FieldToken
          field="time_zone"
          label="Time zone"
          kind="text"
          list="site-zones"
          :allowed="zones"
        />
        and rests on the holidays of
        <ChoiceToken
          label="Country of the holidays"
          path="sites.holidays.country"
          :options="options"
          :model-value="(row.part as Site).holidays.country ?? ''"
          @update:model-value="(v) => setCountry(row.part.id, v)"
        />
        <template v-if="regions(row.part as Site).length">
          ({{ ''
          }}<FieldToken
            field="holidays.region"
            label="Region of the holidays"
            :options="regions(row.part as Site)"
            none="all of it"
          />)
        </template>
        <PlanPart
          v-for="own in ownDays(row.part.id)"
          :key="own.key"
          :of="own.at"
          >, <FieldToken field="name" label="Name of the day" kind="text" /> on
          <FieldToken field="day" label="Day of rest" kind="date" /><button
            class="link tiny"
            :aria-label="`Take ${own.value.name} away`"
            @click="store.remove(own.at)"
          >
            ×
          </button></PlanPart
        >. Its devices know
        <NamesToken
          field="display"
          label="Display protocols of its devices"
          none="any display protocol"
        />. Days differ for everyone here at once: attendance by
        <FieldToken
          field="together.attendance_cv"
          label="How much attendance differs from day to day"
          :scale="100"
          unit="%"
        />, starts by
        <FieldToken
          field="together.shift_sd_minutes"
          label="How much starts differ from day to day"
          unit="min"
        />. <button class="link" @click="store.apply({ verb: 'add-rest-day', site: row.part.id, day: first })">Add a day</button> or
        <FileToken
          accept=".ics,text/calendar"
          data-testid="calendar-file"
          @file="(file) => take(row.part.id, file)"
          >take days from a calendar file</FileToken
        >. <PartActs what="site" :part="row.part" />
        </PlanPart>
      </template>
    </PartTable>
    <button class="link" data-testid="add-site" @click="addPart('site', 'New site')">
      Add a site
    </button>
  </section>
</template>

<style scoped>
section {
  padding: 6px 16px;
}
h2 {
  font-size: 14px;
  font-weight: 650;
}
</style>
