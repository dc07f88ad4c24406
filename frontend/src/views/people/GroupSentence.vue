<script setup lang="ts">
import { computed, onMounted } from 'vue'

import type { Group } from '@/api/client'
import { nameOf, type Named } from '@/plan/called'
import PlanPart from '@/plan/PlanPart.vue'
import { useDirectory } from '@/stores/directory'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import OptionalToken from '@/ui/OptionalToken.vue'
import NamesToken from '@/ui/NamesToken.vue'

import RotationSentence from './RotationSentence.vue'
import type { usePeople } from './usePeople'

/** Who a group is: how many, where, what they run, how they grow. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; group: Group }>()

const plan = computed(() => props.people.store.plan)
const named = (ids: readonly Named[]) =>
  ids.map((each) => ({ value: each.id, text: nameOf(each).toLowerCase() }))
const sites = computed(() => named(plan.value?.sites ?? []))
const profiles = computed(() => named(plan.value?.profiles ?? []))
const headcount = computed(() => props.people.headcount.value)
const site = computed(() => plan.value?.sites.find((s) => s.id === props.group.site))

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
  props.people.store.alter(props.people.headcountAt.value, (demand) => {
    demand.follows = key || null
    if (people !== undefined) demand.people = people
  })
}

function grow(): void {
  const since = plan.value?.week_of ?? props.people.first.value
  void props.people.store.apply({ verb: 'grow', group: props.group.id, since })
}
</script>

<template>
  <PlanPart :of="people.groupAt.value">
    <p>
      <template v-if="headcount">
        <PlanPart :of="people.headcountAt.value">
          <FieldToken field="people" label="People" />
        </PlanPart>
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
      <FieldToken field="works_holidays" label="Holidays" no="rests" yes="works" />. Its data may be kept in
      <NamesToken field="data_areas" label="Areas for its data" none="any area" />.
      <template v-if="group.growth">
        It grows by
        <FieldToken field="growth.per_year" label="Growth per year" unit="%" :scale="100" />
        a year since
        <FieldToken field="growth.since" label="Growth counted from" kind="date" />
        (<button
          class="link"
          @click="people.store.set(people.groupAt.value.at('growth'), null)"
        >
          stop</button
        >).
      </template>
      <button v-else class="link" data-testid="grow" @click="grow">It grows</button>
      <template v-if="group.demand.kind === 'drop-in'">
        A visit lasts
        <PlanPart :of="people.groupAt.value.at('demand')">
          <FieldToken field="session.mean_minutes" label="Visit in minutes" unit="min" />,
          <FieldToken field="session.kind" label="Distribution of visits" />
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
        </PlanPart>
      </template>
    </p>
    <RotationSentence
      v-if="headcount && (headcount.rotation || headcount.patterns.length > 1)"
      :people="people"
      :headcount="headcount"
    />
  </PlanPart>
</template>
