<script setup lang="ts">
import { computed } from 'vue'

import type { DropIn, Group } from '@/api/client'
import ChoiceRow from '@/parts/ChoiceRow.vue'
import NameToken from '@/parts/NameToken.vue'
import { nameOf } from '@/plan/called'
import PatternPicture from './PatternPicture.vue'
import RatesPicture from './RatesPicture.vue'
import { freeId } from '@/ui/ids'
import ProblemNote from '@/ui/ProblemNote.vue'

import GroupSentence from './GroupSentence.vue'
import PatternSentence from './PatternSentence.vue'
import RegroupLine from './RegroupLine.vue'
import UseSentence from './UseSentence.vue'
import type { usePeople } from './usePeople'

/** One group under the week: its day as a picture, and the rest of it as sentences. */
const props = defineProps<{ people: ReturnType<typeof usePeople>; group: Group; width: number }>()
const dropIn = computed(() =>
  props.group.demand.kind === 'drop-in' ? (props.group.demand as DropIn) : null,
)
const patterns = computed(() => props.people.headcount.value?.patterns ?? [])
const chosen = computed(() => props.people.pattern.value)

async function addPattern(): Promise<void> {
  const like = chosen.value
  if (!like) return
  const taken = patterns.value.map((pattern) => pattern.id)
  const id = freeId(like.id, taken)
  const of = { group: props.group.id, pattern: like.id }
  if (await props.people.store.apply({ verb: 'copy-pattern', ...of, new: id }))
    props.people.go({ pattern: id })
}
function addBreak(): void {
  const pattern = chosen.value?.id
  if (pattern) void props.people.store.apply({ verb: 'add-break', group: props.group.id, pattern })
}
async function dropPattern(): Promise<void> {
  const pattern = chosen.value?.id
  if (!pattern) return
  if (await props.people.store.apply({ verb: 'remove-pattern', group: props.group.id, pattern }))
    props.people.go({ pattern: undefined })
}
</script>

<template>
  <section class="group" :aria-label="nameOf(group)">
    <header>
      <h2><NameToken what="group" :part="group" /></h2>
      <RegroupLine :people="people" :group="group" />
      <button class="link" @click="people.go({ group: undefined, pattern: undefined })">
        Close
      </button>
    </header>
    <div class="sentences">
      <GroupSentence :people="people" :group="group" />
      <UseSentence :people="people" :group="group" />
    </div>
    <template v-if="chosen">
      <div class="patterns">
        <ChoiceRow
          label="Patterns"
          :options="patterns.map((each) => ({ value: each.id, text: nameOf(each) }))"
          :model-value="chosen.id"
          @update:model-value="(pattern) => people.go({ pattern })"
        />
        <button class="link act" data-testid="add-pattern" @click="addPattern">
          Add one like this
        </button>
        <button v-if="patterns.length > 1" class="link act" @click="dropPattern">
          Remove this one
        </button>
        <button class="link act" data-testid="add-break" @click="addBreak">Add a break</button>
      </div>
      <ProblemNote
        v-if="people.pictureProblem.value && !people.crowd.problem"
        :problem="people.pictureProblem.value"
      />
      <PatternPicture
        :pattern="chosen"
        :picture="people.picture.value"
        :pictured="people.pictured.value"
        :width="width"
        :height="230"
        :aria-busy="people.drawing.value"
        @change="people.editPattern"
        @cancel="people.cancel"
      />
      <PatternSentence :people="people" :pattern="chosen" />
    </template>
    <RatesPicture
      v-else-if="dropIn"
      :demand="dropIn"
      :width="width"
      :height="220"
      @change="people.editRates"
      @cancel="people.cancel"
    />
  </section>
</template>

<style scoped>
.group {
  border-top: 1px solid var(--hair-strong);
  margin-top: 6px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 14px;
  padding: 6px 16px 0;
}
h2 {
  font-size: 15px;
  font-weight: 650;
}
.sentences {
  padding: 0 16px;
}
.patterns {
  display: flex;
  gap: 12px;
  padding: 4px 14px 0;
}
.act {
  font-style: italic;
}
</style>
