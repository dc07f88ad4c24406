<script setup lang="ts">
import { computed, shallowRef } from 'vue'

import { api, type Access, type Group, type Plan, type Pool, type Problem } from '@/api/client'
import { sent } from '@/ask/send'
import { usePlan } from '@/plan/store'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import FileToken from '@/ui/FileToken.vue'
import { words } from '@/ui/format'
import { freeId } from '@/ui/ids'
import ProblemNote from '@/ui/ProblemNote.vue'

import type { usePeople } from './usePeople'

/** What a group may open: whole desktops, and apps from a pool's image. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; group: Group }>()

const TOGETHER = [
  { value: 'one session', text: 'one session' },
  { value: 'two sessions', text: 'two sessions' },
]
const AS = [
  { value: 'desktop', text: 'a desktop' },
  { value: 'apps', text: 'apps' },
]
const plan = computed(() => props.people.store.plan as Plan)
const pools = computed(() => plan.value.pools.map((p) => ({ value: p.id, text: p.id })))
const profiles = computed(() => [
  { value: '', text: 'their usual' },
  ...plan.value.profiles.map((p) => ({ value: p.id, text: words(p.id).toLowerCase() })),
])
const uses = computed(() =>
  plan.value.access
    .map((each, index) => ({ each, index }))
    .filter(({ each }) => each.group === props.group.id),
)
const poolOf = (id: string) => plan.value.pools.find((p) => p.id === id)
const inventory = (pool: string) => {
  const image = poolOf(pool)?.image
  return plan.value.images.find((each) => each.id === image)?.apps ?? []
}
const published = computed(() =>
  plan.value.pools.filter((pool) =>
    uses.value.some(({ each }) => each.pool === pool.id && each.as === 'apps'),
  ),
)
const images = computed(() => [
  { value: '', text: 'no image' },
  ...plan.value.images.map((image) => ({ value: image.id, text: image.id })),
])
function setImage(pool: string, image: string): void {
  edit((target) => {
    const found = target.pools.find((each) => each.id === pool)
    if (found) found.image = (image || null) as never
  })
}
function setInventory(image: string, apps: string[]): void {
  edit((target) => {
    const found = target.images.find((each) => each.id === image)
    if (found) found.apps = apps
  })
}
function addImage(pool: string): void {
  const id = freeId(
    `${pool}-image`,
    plan.value.images.map((image) => image.id),
  )
  const tuning = { cpu: 1, memory: 1 }
  const image = { id, apps: [], gib: 40, system: 'many sessions' as const, display: [], tuning }
  edit((target) => {
    target.images.push(image)
    const found = target.pools.find((each) => each.id === pool)
    if (found) found.image = id
  })
}
const both = computed(() =>
  uses.value
    .filter(({ each }) => each.as === 'apps')
    .map(({ each }) => each.pool)
    .filter((pool) => uses.value.some(({ each }) => each.pool === pool && each.as === 'desktop')),
)

function edit(change: (plan: Plan) => void): void {
  props.people.store.edit(change)
}
const editUse = (index: number) => (change: (use: Access) => void) =>
  edit((target) => {
    const use = target.access[index]
    if (use) change(use as Access)
  })
function setAs(index: number, kind: string): void {
  editUse(index)((use) => {
    use.as = kind as Access['as']
    use.apps = kind === 'apps' ? inventory(use.pool).slice(0, 1) : []
    if (kind === 'apps' && use.apps.length === 0) use.apps = ['name of the app']
  })
}
function add(): void {
  const taken = new Set(uses.value.map(({ each }) => `${each.pool} ${each.as}`))
  const free = plan.value.pools
    .flatMap((p) => [
      { pool: p.id, as: 'desktop' as const },
      { pool: p.id, as: 'apps' as const },
    ])
    .find((each) => !taken.has(`${each.pool} ${each.as}`))
  if (!free) return
  const apps = free.as === 'apps' ? [inventory(free.pool)[0] ?? 'name of the app'] : []
  edit((target) =>
    target.access.push({
      group: props.group.id,
      ...free,
      apps,
      use: 1,
      profile: null,
    } as never),
  )
}
const ASSIGN = [
  { value: 'at first logon', text: 'at their first logon' },
  { value: 'by list', text: 'by list alone' },
]
const problem = shallowRef<Problem | null>(null)
const homes = computed(() =>
  plan.value.pools.filter(
    (pool) => pool.kind === 'dedicated' && uses.value.some(({ each }) => each.pool === pool.id),
  ),
)
const listed = (pool: Pool) => pool.assigned.filter((each) => each.group === props.group.id).length
async function takeList(pool: string, file: File): Promise<void> {
  const text = await file.text()
  const found = await usePlan().change((plan) =>
    api.POST('/api/people/assigned', sent({ plan, pool, text })),
  )
  problem.value = found.problem
}
const toList = (text: string) =>
  text
    .split(',')
    .map((app) => app.trim())
    .filter(Boolean)
</script>

<template>
  <div data-testid="uses">
    <FieldScope
      v-for="{ each, index } in uses"
      :key="index"
      :of="each"
      path="access"
      :edit="editUse(index)"
    >
      <p>
        May open
        <ChoiceToken
          label="As"
          :options="AS"
          :model-value="each.as"
          @update:model-value="(v) => setAs(index, v)"
        />
        of
        <FieldToken field="pool" label="Pool" :options="pools" />
        <template v-if="each.as === 'apps'">
          (<input
            class="apps"
            :value="each.apps.join(', ')"
            :aria-label="`Apps of ${each.pool}`"
            :style="{ width: `${each.apps.join(', ').length + 2}ch` }"
            @change="
              (e) => editUse(index)((u) => (u.apps = toList((e.target as HTMLInputElement).value)))
            "
          />)
        </template>
        on
        <FieldToken field="use" label="Share of working days" unit="%" :scale="100" /> of working
        days, for
        <ChoiceToken
          label="Workload profile of this use"
          path="access.profile"
          :options="profiles"
          :model-value="each.profile ?? ''"
          @update:model-value="(v) => editUse(index)((u) => (u.profile = (v || null) as never))"
        />
        work.
        <button class="link" @click="edit((p) => p.access.splice(index, 1))">Remove</button>
      </p>
    </FieldScope>
    <p v-for="pool in published" :key="`image ${pool.id}`" data-testid="image">
      {{ pool.id }} publishes from
      <ChoiceToken
        label="Image of the pool"
        :options="images"
        :model-value="pool.image ?? ''"
        @update:model-value="(v) => setImage(pool.id, v)"
      />
      <template v-if="pool.image">
        , which has
        <input
          class="apps"
          :value="inventory(pool.id).join(', ')"
          :aria-label="`Inventory of ${pool.image}`"
          :style="{ width: `${inventory(pool.id).join(', ').length + 2}ch` }"
          @change="
            (e) => setInventory(pool.image ?? '', toList((e.target as HTMLInputElement).value))
          "
        /> </template
      >.
      <button class="link" @click="addImage(pool.id)">Another image</button>
    </p>
    <p v-for="pool in both" :key="pool">
      In {{ pool }} a desktop and an app of one person are
      <ChoiceToken
        label="Desktop and app together"
        path="pools.desktop_and_apps"
        :options="TOGETHER"
        :model-value="poolOf(pool)?.desktop_and_apps ?? 'one session'"
        @update:model-value="
          (v) =>
            edit((p) => {
              const found = p.pools.find((each) => each.id === pool)
              if (found) found.desktop_and_apps = v as typeof found.desktop_and_apps
            })
        "
      />.
    </p>
    <ProblemNote v-if="problem" :problem="problem" />
    <p v-for="pool in homes" :key="`home ${pool.id}`" data-testid="homes">
      In {{ pool.id }} everyone has a host of their own:
      <ChoiceToken
        label="How people get their hosts"
        path="pools.assign"
        :options="ASSIGN"
        :model-value="pool.assign"
        @update:model-value="
          (v) =>
            edit((p) => {
              const found = p.pools.find((each) => each.id === pool.id)
              if (found) found.assign = v as typeof found.assign
            })
        "
      />; {{ listed(pool) }} of this group are on its list.
      <FileToken
        accept=".csv,text/csv"
        data-testid="host-list"
        @file="(file) => takeList(pool.id, file)"
        >Take a list (CSV: group, person, host)</FileToken
      >
    </p>
    <p v-if="uses.length === 0">{{ words(group.id) }} may open nothing yet.</p>
    <button v-if="plan.pools.length" class="link" data-testid="add-use" @click="add">
      {{ uses.length ? 'Something else too' : 'Let them open a pool' }}
    </button>
  </div>
</template>

<style scoped>
.apps {
  font: inherit;
  font-weight: 650;
  color: var(--ink);
  background: none;
  border: 0;
  border-bottom: 1.5px solid var(--brass-line);
}
</style>
