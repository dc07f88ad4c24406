<script setup lang="ts">
import { computed } from 'vue'

import type { Edit, LoadRule, Said } from '@/api/client'
import { nameOf } from '@/plan/called'
import { loadRuleAt } from './edits'
import PartName from '@/plan/PartName.vue'
import PlanPart from '@/plan/PlanPart.vue'
import { usePlan } from '@/plan/store'
import SaidSentence from '@/sentence/SaidSentence.vue'

/** A load rule as a sentence: edited where it stands, taken out of the band or away for good. */
const props = defineProps<{
  rule: LoadRule
  said: Said
  schedule: string
  sites: readonly string[]
}>()
const emit = defineEmits<{ apply: [edit: Edit] }>()
const store = usePlan()
const at = computed(() => loadRuleAt(props.schedule, props.rule.id))

const named = () => ({ schedule: props.schedule, rule: props.rule.id })
/** Another signal has marks of its own unit. */
function set(values: Record<string, unknown>): void {
  const signal = values.signal as LoadRule['signal'] | undefined
  if (signal) emit('apply', { verb: 'set-signal', ...named(), signal })
  else store.alter(at.value, (rule) => Object.assign(rule, values))
}
</script>

<template>
  <p data-testid="load-rule-sentence">
    <PlanPart :of="at">
      <PartName label="Name of the load rule" :part="rule" />:
      <SaidSentence :said="said" :sites="sites" @set="set" />
    </PlanPart>
    <button
      class="plain gone"
      :aria-label="`Take load rule ${nameOf(rule)} away`"
      @click="emit('apply', { verb: 'remove-load-rule', ...named() })"
    >
      remove
    </button>
  </p>
</template>

<style scoped>
.gone {
  color: var(--ink-quiet);
  padding: 0 4px;
  font-size: 12px;
}
.gone:hover {
  color: var(--ink);
}
</style>
