<script setup lang="ts">
import { computed } from 'vue'

import type { Entitlement, Group, Plan } from '@/api/client'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { words } from '@/ui/format'

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
  plan.value.entitlements
    .map((each, index) => ({ each, index }))
    .filter(({ each }) => each.group === props.group.id),
)
const poolOf = (id: string) => plan.value.pools.find((p) => p.id === id)
const inventory = (pool: string) => {
  const image = poolOf(pool)?.image
  return plan.value.images.find((each) => each.id === image)?.apps ?? []
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
const editUse = (index: number) => (change: (use: Entitlement) => void) =>
  edit((target) => {
    const use = target.entitlements[index]
    if (use) change(use as Entitlement)
  })
function setAs(index: number, kind: string): void {
  editUse(index)((use) => {
    use.as = kind as Entitlement['as']
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
    target.entitlements.push({ group: props.group.id, ...free, apps, use: 1, profile: null } as never),
  )
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
      path="entitlements"
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
          path="entitlements.profile"
          :options="profiles"
          :model-value="each.profile ?? ''"
          @update:model-value="(v) => editUse(index)((u) => (u.profile = (v || null) as never))"
        />
        work.
        <button class="link" @click="edit((p) => p.entitlements.splice(index, 1))">Remove</button>
      </p>
    </FieldScope>
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
