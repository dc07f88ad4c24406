<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Figures, Interval } from '@/api/client'
import CanvasLayer from '@/chart/CanvasLayer.vue'
import ChartPicture from '@/chart/ChartPicture.vue'
import type { Ink, Pen } from '@/chart/pen'
import PictureMenu from '@/chart/PictureMenu.vue'
import type { Table } from '@/chart/table'
import { count, meanOf, share } from '@/ui/format'
import { useWidth } from '@/ui/useWidth'

/** Where the host-hours went, as a bar that starts at the ideal line. */
const props = defineProps<{
  figures: Figures
  efficiency: number | null
  withheld: string
}>()

interface Part {
  key: keyof Figures['host_hours']
  name: string
  meaning: string
  inks: readonly Ink[]
}
const PARTS: readonly Part[] = [
  {
    key: 'in_use',
    name: 'In use',
    meaning: 'what active sessions needed at the least',
    inks: [{ colour: '--water-1' }],
  },
  {
    key: 'lingering',
    name: 'Lingering',
    meaning: 'idle and disconnected sessions that held slots',
    inks: [{ colour: '--water-2' }, { colour: '--water-3', pattern: 'posts', gap: 6, width: 2 }],
  },
  {
    key: 'fragmentation',
    name: 'Scattered',
    meaning: 'sessions spread over more hosts than they needed',
    inks: [{ colour: '--water-3' }, { colour: '--paper', pattern: 'back', gap: 6, width: 1.4 }],
  },
  {
    key: 'readiness',
    name: 'Ready, empty',
    meaning: 'hosts that stood ready with nobody on them',
    inks: [{ colour: '--brass-wash' }, { colour: '--brass-line', pattern: 'slant', gap: 6 }],
  },
  {
    key: 'transit',
    name: 'Starting and stopping',
    meaning: 'powered but not usable',
    inks: [{ colour: '--brass' }],
  },
  {
    key: 'rounding',
    name: 'Billing steps',
    meaning: 'what rounding on the bill added',
    inks: [{ colour: '--ink-quiet' }],
  },
]

const billed = computed(() => props.figures.host_hours.billed)
const ideal = computed(() => props.figures.host_hours.ideal)
/** What some hours are of those billed; null where that is not known. */
const partOf = ({ mean }: Interval) =>
  mean === null || !billed.value.mean ? null : mean / billed.value.mean
const parts = computed(() =>
  PARTS.map((part) => {
    const hours = props.figures.host_hours[part.key] as Interval
    return { ...part, hours, part: partOf(hours) }
  }),
)
const mark = computed(() => partOf(ideal.value))
const sayHours = (hours: Interval) => meanOf(hours, (mean) => `${count(mean, 0)} h`)

const root = ref<HTMLElement>()
const width = useWidth(root, 270)
const picture = ref<InstanceType<typeof ChartPicture>>()
const BAR = 18
const draw = computed(() => {
  const [all, wide, at] = [parts.value, width.value, mark.value]
  return (pen: Pen) => {
    let x = 0
    for (const { inks, part } of all) {
      if (part === null) continue
      for (const ink of inks) pen.box(x, 4, part * wide, BAR, ink)
      x += part * wide
    }
    pen.stroke(`M0.5 4.5H${wide - 0.5}V${BAR + 3.5}H0.5Z`, { colour: '--hair-strong' })
    if (at !== null)
      pen.stroke(`M${Math.min(at, 1) * wide} 1V${BAR + 7}`, { colour: '--ink', width: 2.5, dash: [0.1, 4] })
  }
})
const drawKey = (inks: readonly Ink[]) => (pen: Pen) => {
  for (const ink of inks) pen.box(0, 0, 10, 10, ink)
}
const keys = PARTS.map((part) => drawKey(part.inks))
const table = (): Table => ({
  head: ['where the host-hours went', 'hours', 'share'],
  rows: [
    ...parts.value.map((part) => [part.name, part.hours.mean ?? '', part.part ?? '']),
    ['Billed in the week', billed.value.mean ?? '', 1],
    ['Ideal line', ideal.value.mean ?? '', mark.value ?? ''],
  ],
})
</script>

<template>
  <div ref="root" data-testid="hours">
    <ChartPicture
      ref="picture"
      name="host-hours"
      label="Where the host-hours went"
      :width="width"
      :height="BAR + 8"
    >
      <template #canvas>
        <CanvasLayer :x="0" :y="0" :width="width" :height="BAR + 8" :draw="draw" />
      </template>
    </ChartPicture>
    <p class="ideal">
      <PictureMenu v-if="picture" class="menu" name="host-hours" :saved="picture.saved" :table />
      <template v-if="efficiency !== null">
        Ideal line <b>{{ sayHours(ideal) }}</b>: {{ share(efficiency) }} of what is billed
      </template>
      <template v-else>Efficiency is withheld: {{ withheld || 'nothing is billed' }}</template>
    </p>
    <table>
      <caption class="visually-hidden">
        Host-hours of the week by where they went
      </caption>
      <tbody>
        <tr v-for="(part, k) in parts" v-show="part.hours.mean === null || part.hours.mean >= 0.05" :key="part.key">
          <th scope="row" :title="part.meaning">
            <span class="key"
              ><CanvasLayer :x="0" :y="0" :width="10" :height="10" :draw="keys[k]!" /></span
            >{{ part.name }}
          </th>
          <td>{{ sayHours(part.hours) }}</td>
          <td>{{ part.part === null ? '' : share(part.part) }}</td>
        </tr>
        <tr class="sum">
          <th scope="row">Billed in the week</th>
          <td>{{ sayHours(billed) }}</td>
          <td></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.ideal {
  font-size: 12.5px;
}
.menu {
  float: right;
}
table {
  width: 100%;
  border-collapse: collapse;
  font-size: 12.5px;
  margin-top: 2px;
}
th {
  text-align: left;
  font-weight: 400;
  padding: 1px 0;
}
td {
  text-align: right;
  width: 64px;
}
.key {
  display: inline-block;
  position: relative;
  width: 10px;
  height: 10px;
  margin-right: 6px;
  border: 1px solid var(--hair-strong);
}
.sum th,
.sum td {
  border-top: 1px solid var(--hair-strong);
  font-weight: 650;
}
</style>
