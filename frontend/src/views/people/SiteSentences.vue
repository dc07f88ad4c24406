<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, type Plan, type Problem, type Site } from '@/api/client'
import { withMore } from '@/api/complete'
import { told } from '@/ask/told'
import { zones } from '@/help/hints'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import DateToken from '@/ui/DateToken.vue'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import FileToken from '@/ui/FileToken.vue'
import { words } from '@/ui/format'
import { freeId } from '@/ui/ids'
import NamesToken from '@/ui/NamesToken.vue'
import ProblemNote from '@/ui/ProblemNote.vue'
import ValueToken from '@/ui/ValueToken.vue'
import { daysLater } from '@/views/frame/useWeek'

/** Sites: their clocks and the days on which they rest. */
const props = defineProps<{ plan: Plan; first: string }>()
const emit = defineEmits<{ edit: [change: (plan: Plan) => void] }>()

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
const regions = (site: Site) => [
  { value: '', text: 'all of it' },
  ...(countries.value[site.holidays.country ?? ''] ?? []).map((r) => ({ value: r, text: r })),
]

const editSite = (index: number) => (change: (site: Site) => void) =>
  emit('edit', (plan) => {
    const site = plan.sites[index]
    if (site) change(site as Site)
  })
function setCountry(index: number, code: string): void {
  editSite(index)((site) => {
    site.holidays.country = (code || null) as never
    site.holidays.region = null as never
  })
}
function addDay(index: number): void {
  editSite(index)((site) => {
    let day = props.first
    while (site.holidays.own.some((own) => own.day === day)) day = daysLater(day, 1)
    site.holidays.own.push({ day, name: 'own day' })
  })
}
async function take(to: string, file: File): Promise<void> {
  const text = await file.text()
  const body = {
    text,
    first: daysLater(props.first, -366),
    last: daysLater(props.first, 3 * 366),
  }
  const answer = await told(api.POST('/api/people/calendar', { body }))
  problem.value = answer.problem
  if (!answer.data) return
  const { days, skipped } = answer.data
  let added = 0
  store.edit((plan) => {
    const site = plan.sites.find((each) => each.id === to)
    if (!site) return
    const known = new Set(site.holidays.own.map((own) => own.day))
    const fresh = days.filter((day) => !known.has(day.day))
    added = fresh.length
    site.holidays.own = [...site.holidays.own, ...fresh].sort((a, b) => a.day.localeCompare(b.day))
  })
  read.value =
    `${file.name}: ${days.length} dates, ${added} of them new` +
    (skipped.length ? `; left out: ${skipped.slice(0, 3).join('; ')}` : '')
}
async function addSite(): Promise<void> {
  const zone = Intl.DateTimeFormat().resolvedOptions().timeZone || 'Europe/Dublin'
  const found = await store.change((plan) => {
    const known = plan.sites.map((site) => site.id)
    return withMore(plan, {
      sites: [...plan.sites, { id: freeId('site', known), time_zone: zone }],
    })
  })
  problem.value = found.problem
}
</script>

<template>
  <section data-testid="sites">
    <h2>Sites, their clocks and holidays</h2>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-if="read" role="status">{{ read }}</p>
    <datalist id="site-zones"><option v-for="zone in zones" :key="zone" :value="zone" /></datalist>
    <FieldScope
      v-for="(site, index) in plan.sites"
      :key="site.id"
      :of="site"
      path="sites"
      :edit="editSite(index)"
    >
      <p>
        <b>{{ words(site.id) }}</b> lives by
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
          :model-value="site.holidays.country ?? ''"
          @update:model-value="(v) => setCountry(index, v)"
        />
        <template v-if="regions(site).length > 1">
          ({{ ''
          }}<ChoiceToken
            label="Region of the holidays"
            path="sites.holidays.region"
            :options="regions(site)"
            :model-value="site.holidays.region ?? ''"
            @update:model-value="
              (v) => editSite(index)((s) => (s.holidays.region = (v || null) as never))
            "
          />)
        </template>
        <template v-for="(own, k) in site.holidays.own" :key="k"
          >,
          <ValueToken
            kind="text"
            label="Name of the day"
            path="sites.holidays.own.name"
            :model-value="own.name"
            @update:model-value="
              (v) => editSite(index)((s) => Object.assign(s.holidays.own[k] ?? {}, { name: v }))
            "
          />
          on
          <DateToken
            label="Day of rest"
            :model-value="own.day"
            @update:model-value="
              (v) => editSite(index)((s) => Object.assign(s.holidays.own[k] ?? {}, { day: v }))
            "
          /><button
            class="link tiny"
            :aria-label="`Take ${own.name} away`"
            @click="editSite(index)((s) => s.holidays.own.splice(k, 1))"
          >
            ×
          </button></template
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
        />. <button class="link" @click="addDay(index)">Add a day</button> or
        <FileToken
          accept=".ics,text/calendar"
          data-testid="calendar-file"
          @file="(file) => take(site.id, file)"
          >take days from a calendar file</FileToken
        >
      </p>
    </FieldScope>
    <button class="link" @click="addSite">Add a site</button>
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
.tiny {
  text-decoration: none;
  color: var(--ink-quiet);
}
</style>
