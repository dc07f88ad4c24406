<script setup lang="ts">
import { computed, onMounted } from 'vue'

import type { Group } from '@/api/client'
import { useDirectory } from '@/stores/directory'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import DateToken from '@/ui/DateToken.vue'
import FieldScope from '@/ui/FieldScope.vue'
import FieldToken from '@/ui/FieldToken.vue'
import OptionalToken from '@/ui/OptionalToken.vue'
import { words } from '@/ui/format'
import NamesToken from '@/ui/NamesToken.vue'

import RotationSentence from './RotationSentence.vue'
import type { usePeople } from './usePeople'

/** Who a group is: how many, where, what they run, how they grow. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; group: Group }>()

const VISITS = [
  { value: 'exponential', text: 'exponential' },
  { value: 'lognormal', text: 'lognormal' },
  { value: 'fixed', text: 'fixed' },
]
const HOLIDAYS = [
  { value: 'no', text: 'rests' },
  { value: 'yes', text: 'works' },
]
const plan = computed(() => props.people.store.plan)
const named = (ids: readonly { id: string }[]) =>
  ids.map((each) => ({ value: each.id, text: words(each.id).toLowerCase() }))
const sites = computed(() => named(plan.value?.sites ?? []))
const profiles = computed(() => named(plan.value?.profiles ?? []))
const headcount = computed(() => props.people.headcount.value)
const site = computed(() => plan.value?.sites.find((s) => s.id === props.group.site))
const edit = (change: (group: Group) => void) => props.people.editGroup(change)

const directory = useDirectory()
onMounted(() => void (directory.held ?? directory.load()))
const sources = computed(() => {
  const own = headcount.value?.follows
  const keys = directory.held?.groups.map((group) => group.key) ?? []
  return [
    { value: '', text: 'a number typed here' },
    ...[...new Set([...(own ? [own] : []), ...keys])].map((key) => ({
      value: key,
      text: `the directory's ${key}`,
    })),
  ]
})
/** Follow a directory group: its number is taken at once, and told when it changes. */
function follow(key: string): void {
  const people = directory.held?.groups.find((group) => group.key === key)?.people
  edit((group) => {
    if (group.demand.kind !== 'headcount') return
    group.demand.follows = (key || null) as never
    if (people !== undefined) group.demand.people = people
  })
}

function grow(): void {
  const since = plan.value?.week_of ?? props.people.first.value
  edit((group) => (group.growth = { per_year: 0.05, since } as never))
}
</script>

<template>
  <FieldScope :of="group" path="groups" :edit="edit">
    <p>
      <template v-if="headcount">
        <FieldScope
          :of="headcount"
          path="groups.demand"
          :edit="(change) => edit((g) => change(g.demand as never))"
        >
          <FieldToken field="people" label="People" />
        </FieldScope>
        people,
        <ChoiceToken
          label="Where the number comes from"
          path="groups.demand.follows"
          :options="sources"
          :model-value="headcount.follows ?? ''"
          @update:model-value="follow"
        />,
      </template>
      <template v-else>People who drop in</template>
      at
      <FieldToken field="site" label="Site" :options="sites" />
      ({{ site?.time_zone }}) run
      <FieldToken field="profile" label="Workload profile" :options="profiles" />
      work. On holidays the group
      <ChoiceToken
        label="Holidays"
        path="groups.works_holidays"
        :options="HOLIDAYS"
        :model-value="group.works_holidays ? 'yes' : 'no'"
        @update:model-value="(v) => edit((g) => (g.works_holidays = v === 'yes'))"
      />. Its data may be kept in
      <NamesToken field="data_areas" label="Areas for its data" none="any area" />.
      <template v-if="group.growth">
        It grows by
        <FieldToken field="growth.per_year" label="Growth per year" unit="%" :scale="100" />
        a year since
        <DateToken
          label="Growth counted from"
          :model-value="group.growth.since"
          @update:model-value="(v) => edit((g) => g.growth && (g.growth.since = v))"
        />
        (<button class="link" @click="edit((g) => (g.growth = null as never))">stop</button>).
      </template>
      <button v-else class="link" data-testid="grow" @click="grow">It grows</button>
      <template v-if="group.demand.kind === 'drop-in'">
        A visit lasts
        <FieldScope
          :of="group.demand"
          path="groups.demand"
          :edit="(change) => edit((g) => change(g.demand as never))"
        >
          <FieldToken field="session.mean_minutes" label="Visit in minutes" unit="min" />,
          <FieldToken field="session.kind" label="Distribution of visits" :options="VISITS" />
          <template v-if="group.demand.session.kind === 'lognormal'">
            with deviation
            <FieldToken field="session.cv" label="Spread of visits" /> of the mean</template
          >. Visits of a month are by
          <OptionalToken
            field="different_people"
            label="Different people in a month"
            none="an unknown number of people"
            unit="different people"
            :start="100"
          />.
        </FieldScope>
      </template>
    </p>
    <RotationSentence
      v-if="headcount && (headcount.rotation || headcount.patterns.length > 1)"
      :people="people"
      :headcount="headcount"
    />
  </FieldScope>
</template>
