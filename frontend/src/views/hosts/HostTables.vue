<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import type { Plan } from '@/api/client'
import ChoiceRow from '@/parts/ChoiceRow.vue'
import NameToken from '@/parts/NameToken.vue'
import PartActs from '@/parts/PartActs.vue'
import { added, addPart, type What } from '@/parts/parts'
import { PLAN, type Row } from '@/plan/lens'
import { tableRows, type Column } from '@/table/columns'
import PartTable from '@/table/PartTable.vue'

import PlaceSentence from './PlaceSentence.vue'

/** What hosts are made of and where they stand, each list as a table. */
const props = defineProps<{ plan: Plan }>()

type Place = Plan['places'][number]
const PER = [
  { value: 'named person', text: 'named person' },
  { value: 'peak session', text: 'session at the peak' },
  { value: 'active person', text: 'person seen' },
]
const LISTS = {
  size: {
    text: 'sizes',
    head: 'Size',
    columns: [
      { field: 'vcpu', head: 'vCPU' },
      { field: 'memory_gib', head: 'Memory', unit: 'GiB' },
      { field: 'hourly', head: 'An hour', kind: 'money' },
      { field: 'quota', head: 'Quota', unit: 'vCPU', none: 'none' },
      { field: 'gpu_gib', head: 'GPU', unit: 'GiB' },
      { field: 'cache_gib', head: 'Cache', unit: 'GiB' },
      { field: 'billing_step_seconds', head: 'Billed in', unit: 's', rare: true },
      { field: 'billing_minimum_seconds', head: 'At least', unit: 's', rare: true },
      { field: 'source', head: 'Source', kind: 'text' },
    ],
  },
  disk: {
    text: 'disks',
    head: 'Disk',
    columns: [
      { field: 'gib', head: 'Holds', unit: 'GiB' },
      { field: 'monthly_on', head: 'A month, host on', kind: 'money' },
      { field: 'monthly_off', head: 'A month, host off', kind: 'money' },
      { field: 'source', head: 'Source', kind: 'text' },
    ],
  },
  image: {
    text: 'images',
    head: 'Image',
    columns: [
      { field: 'gib', head: 'Has', unit: 'GiB' },
      { field: 'system', head: 'Its system holds' },
      { field: 'tuning.cpu', head: 'CPU left by tuning', scale: 100, unit: '%' },
      { field: 'tuning.memory', head: 'Memory left by tuning', scale: 100, unit: '%' },
    ],
  },
  profile: {
    text: 'workloads',
    head: 'Workload',
    columns: [
      { field: 'cpu.mean', head: 'CPU, active', unit: 'vCPU' },
      { field: 'cpu.sd', head: '±' },
      { field: 'cpu.idle', head: 'CPU, idle' },
      { field: 'memory_gib.active', head: 'Memory, active', unit: 'GiB' },
      { field: 'memory_gib.idle', head: 'idle' },
      { field: 'memory_gib.disconnected', head: 'disconnected' },
      { field: 'logon.seconds', head: 'Logon', unit: 's' },
      { field: 'logon.vcpu', head: 'at', unit: 'vCPU' },
      { field: 'disk_ops', head: 'Disk operations', unit: '/s', rare: true },
      { field: 'gpu_gib', head: 'GPU', unit: 'GiB', rare: true },
    ],
  },
  place: {
    text: 'places',
    head: 'Place',
    columns: [
      { field: 'area', head: 'Legal area', kind: 'text' },
      { field: 'starts_at_once', head: 'Starts at once', unit: 'hosts', none: 'any number' },
    ],
  },
  licence: {
    text: 'licences',
    head: 'Licence',
    columns: [
      { field: 'monthly', head: 'A month', kind: 'money' },
      { field: 'per', head: 'For each', options: PER },
    ],
  },
} satisfies Partial<Record<What, { text: string; head: string; columns: Column[] }>>
type List = keyof typeof LISTS

const list = ref<List>('size')
const OPTIONS = Object.entries(LISTS).map(([value, { text }]) => ({ value, text }))
const shown = computed(() => LISTS[list.value])
const lists: Record<List, (plan: Plan) => Row<{ id: string; name: string }>[]> = {
  size: (plan) => PLAN.at('sizes').rows(plan),
  disk: (plan) => PLAN.at('disks').rows(plan),
  image: (plan) => PLAN.at('images').rows(plan),
  profile: (plan) => PLAN.at('profiles').rows(plan),
  place: (plan) => PLAN.at('places').rows(plan),
  licence: (plan) => PLAN.at('prices').at('licences').rows(plan),
}
const rows = computed(() => tableRows(lists[list.value](props.plan)))
const table = ref<InstanceType<typeof PartTable>>()
/** What was added, from wherever, is shown; a place is opened, since a table has no room for its lines. */
watch(
  added,
  async (made) => {
    if (!made || !(made.what in LISTS)) return
    list.value = made.what as List
    await nextTick()
    if (made.what === 'place') table.value?.open(made.id)
  },
  { immediate: true },
)
</script>

<template>
  <section class="lists" data-testid="lists">
    <h2>What hosts are made of</h2>
    <ChoiceRow
      label="Which list"
      :options="OPTIONS"
      :model-value="list"
      @update:model-value="(v) => (list = v as List)"
    />
    <PartTable
      ref="table"
      :key="list"
      :label="`All ${shown.text}`"
      :head="shown.head"
      :columns="shown.columns"
      :rows="rows"
    >
      <template #acts>
        <button
          class="link"
          :data-testid="`add-${list}`"
          @click="addPart(list, `New ${shown.head.toLowerCase()}`)"
        >
          Add {{ list === 'image' ? 'an' : 'a' }} {{ shown.head.toLowerCase() }}
        </button>
      </template>
      <template #name="{ row }"><NameToken :what="list" :part="row.part" /></template>
      <template #open="{ row }">
        <PlaceSentence v-if="list === 'place'" :plan="plan" :place="row.part as Place" />
        <PartActs v-else :what="list" :part="row.part" />
      </template>
    </PartTable>
  </section>
</template>

<style scoped>
.lists {
  padding: 4px 16px;
}
h2 {
  font-size: 14px;
  font-weight: 650;
}
</style>
