<script setup lang="ts">
import { RouterLink } from 'vue-router'

import type { FactsAnswer } from '@/api/client'
import { useFacts } from '@/plan/facts'
import { usePlan } from '@/plan/store'
import { counted } from '@/ui/format'
import { routeTo } from '@/views/frame/places'

/** What a new plan began with and nobody has said: each is confirmed, or changed where it stands. */
const props = defineProps<{ id: number }>()
type Assumed = FactsAnswer['assumed'][number]
const store = usePlan()
const facts = useFacts()

const to = (pointer: string) =>
  store.plan
    ? { ...routeTo(store.plan, pointer), params: { id: props.id } }
    : { name: 'hosts', params: { id: props.id } }
const confirm = (what: Assumed['id']) => store.apply({ verb: 'confirm', what })
</script>

<template>
  <section v-if="facts.assumed.length" aria-label="Assumed values" data-testid="assumed">
    <h3>{{ counted(facts.assumed.length, 'value') }} assumed</h3>
    <ul>
      <li v-for="each in facts.assumed" :key="each.id">
        {{ each.text.charAt(0).toUpperCase() + each.text.slice(1) }}.
        <span class="acts">
          <button class="link" :aria-label="`So it is: ${each.text}`" @click="confirm(each.id)">
            So it is
          </button>
          <RouterLink :to="to(each.pointer)" :aria-label="`Change it: ${each.text}`">
            Change it
          </RouterLink>
        </span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 3px 0 5px;
  border-bottom: 1px solid var(--hair);
  line-height: 1.35;
}
.acts {
  display: inline-flex;
  gap: 12px;
  white-space: nowrap;
}
a {
  color: var(--ink);
}
</style>
