<script setup lang="ts">
import { computed, shallowRef } from 'vue'

import { api, type Access, type Group, type Plan, type Pool, type Problem } from '@/api/client'
import { sent } from '@/ask/send'
import { nameOf } from '@/plan/called'
import { PLAN } from '@/plan/lens'
import PlanPart from '@/plan/PlanPart.vue'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import FileToken from '@/ui/FileToken.vue'
import { freeId } from '@/ui/ids'
import NamesToken from '@/ui/NamesToken.vue'
import ProblemNote from '@/ui/ProblemNote.vue'

import type { usePeople } from './usePeople'

/** What a group may open: whole desktops, and apps from a pool's image. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; group: Group }>()

const AS = [
  { value: 'desktop', text: 'a desktop' },
  { value: 'apps', text: 'apps' },
]
const plan = computed(() => props.people.store.plan as Plan)
const pools = computed(() => plan.value.pools.map((p) => ({ value: p.id, text: nameOf(p) })))
const profiles = computed(() =>
  plan.value.profiles.map((p) => ({ value: p.id, text: nameOf(p).toLowerCase() })),
)
const { store } = props.people
const uses = computed(() =>
  PLAN.at('access')
    .rows(plan.value)
    .filter(({ value: each }) => each.group === props.group.id),
)
const poolOf = (id: string) => plan.value.pools.find((p) => p.id === id)
const published = computed(() =>
  plan.value.pools.filter((pool) =>
    uses.value.some(({ value: each }) => each.pool === pool.id && each.as === 'apps'),
  ),
)
const imageOf = (pool: string) => PLAN.at('images').item(poolOf(pool)?.image ?? '')
function addImage(pool: string): void {
  const taken = plan.value.images.map((image) => image.id)
  void store.apply({ verb: 'add-image', pool, new: freeId(`${pool}-image`, taken) })
}
const images = computed(() =>
  plan.value.images.map((image) => ({ value: image.id, text: nameOf(image) })),
)
const both = computed(() =>
  uses.value
    .filter(({ value: each }) => each.as === 'apps')
    .map(({ value: each }) => each.pool)
    .filter((pool) =>
      uses.value.some(({ value: each }) => each.pool === pool && each.as === 'desktop'),
    ),
)

function setAs(use: Access, to: string): void {
  const { group, pool, as } = use
  void store.apply({ verb: 'set-use', group, pool, use_as: as, to: to as Access['as'] })
}
const ASSIGNED = { 'at first logon': 'at their first logon', 'by list': 'by list alone' }
const problem = shallowRef<Problem | null>(null)
const homes = computed(() =>
  plan.value.pools.filter(
    (pool) =>
      pool.kind === 'dedicated' && uses.value.some(({ value: each }) => each.pool === pool.id),
  ),
)
const listed = (pool: Pool) => pool.assigned.filter((each) => each.group === props.group.id).length
async function takeList(pool: string, file: File): Promise<void> {
  const still = store.here()
  const text = await file.text()
  if (!still()) return
  const found = await store.change((plan) =>
    api.POST('/api/people/assigned', {
      params: { query: { plan: store.id } },
      ...sent({ plan, pool, text }),
    }),
  )
  problem.value = found.problem
}
</script>

<template>
  <div data-testid="uses">
    <PlanPart v-for="{ value: each, key, at } in uses" :key="key" :of="at">
      <p>
        May open
        <ChoiceToken
          label="As"
          :options="AS"
          :model-value="each.as"
          @update:model-value="(v) => setAs(each, v)"
        />
        of
        <FieldToken field="pool" label="Pool" :options="pools" />
        <template v-if="each.as === 'apps'">
          (<NamesToken field="apps" :label="`Apps of ${each.pool}`" none="no app" />)
        </template>
        on
        <FieldToken field="use" label="Share of working days" unit="%" :scale="100" /> of working
        days, for
        <FieldToken
          field="profile"
          label="Workload profile of this use"
          :options="profiles"
          none="their usual"
        />
        work.
        <button class="link" @click="store.remove(at)">Remove</button>
      </p>
    </PlanPart>
    <PlanPart
      v-for="pool in published"
      :key="`image ${pool.id}`"
      :of="PLAN.at('pools').item(pool.id)"
    >
      <p data-testid="image">
        {{ nameOf(pool) }} publishes from
        <FieldToken field="image" label="Image" :options="images" none="no image" />
        <PlanPart v-if="pool.image" :of="imageOf(pool.id)"
          >, which has
          <NamesToken field="apps" :label="`Inventory of ${pool.image}`" none="no apps" /></PlanPart
        >.
        <button class="link" @click="addImage(pool.id)">Another image</button>
      </p>
    </PlanPart>
    <PlanPart v-for="pool in both" :key="pool" :of="PLAN.at('pools').item(pool)">
      <p>
        In {{ pool }} a desktop and an app of one person are
        <FieldToken field="desktop_and_apps" label="Desktop and app together" />.
      </p>
    </PlanPart>
    <ProblemNote v-if="problem" :problem="problem" />
    <PlanPart v-for="pool in homes" :key="`home ${pool.id}`" :of="PLAN.at('pools').item(pool.id)">
      <p data-testid="homes">
        In {{ nameOf(pool) }} everyone has a host of their own:
        <FieldToken field="assign" label="How people get their hosts" :called="ASSIGNED" />;
        {{ listed(pool) }} of this group are on its list.
        <FileToken
          accept=".csv,text/csv"
          data-testid="host-list"
          @file="(file) => takeList(pool.id, file)"
          >Take a list (CSV: group, person, host)</FileToken
        >
      </p>
    </PlanPart>
    <p v-if="uses.length === 0">{{ nameOf(group) }} may open nothing yet.</p>
    <button
      v-if="plan.pools.length"
      class="link"
      data-testid="add-use"
      @click="store.apply({ verb: 'add-use', group: group.id })"
    >
      {{ uses.length ? 'Something else too' : 'Let them open a pool' }}
    </button>
  </div>
</template>
