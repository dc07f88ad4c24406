<script setup lang="ts">
import type { Edit, LoadRule, Said } from '@/api/client'
import SaidSentence from '@/sentence/SaidSentence.vue'
import FieldScope from '@/ui/FieldScope.vue'

/** A load rule as a sentence: edited where it stands, taken out of the band or away for good. */
const props = defineProps<{
  rule: LoadRule
  said: Said
  schedule: string
  sites: readonly string[]
}>()
const emit = defineEmits<{ edit: [change: (rule: LoadRule) => void]; apply: [edit: Edit] }>()

const named = () => ({ schedule: props.schedule, rule: props.rule.id })
/** Another signal has marks of its own unit. */
function set(values: Record<string, unknown>): void {
  const signal = values.signal as LoadRule['signal'] | undefined
  if (signal) emit('apply', { verb: 'set-signal', ...named(), signal })
  else emit('edit', (rule) => Object.assign(rule, values))
}
</script>

<template>
  <p data-testid="load-rule-sentence">
    <b>{{ rule.id }}</b>:
    <FieldScope :of="rule" path="schedules.load_rules" :edit="(edit) => emit('edit', edit)">
      <SaidSentence :said="said" :sites="sites" @set="set" />
    </FieldScope>
    <button
      class="plain gone"
      :aria-label="`Take load rule ${rule.id} away`"
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
