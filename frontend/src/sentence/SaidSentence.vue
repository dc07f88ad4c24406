<script setup lang="ts">
import type { Said } from '@/api/client'
import { called } from '@/plan/called'
import ChoiceToken from '@/ui/ChoiceToken.vue'
import FieldToken from '@/ui/FieldToken.vue'
import { useScope } from '@/ui/scope'
import { inMinutes, inSeconds, type Timeout } from '@/ui/timeouts'
import ValueToken from '@/ui/ValueToken.vue'

/** A sentence as the server says it: text, and tokens for the fields of the scope's part. */
const props = defineProps<{
  said: Said
  sites: readonly string[]
  /** Whether what is changed is for one pool alone, which cannot have everything otherwise. */
  alone?: boolean
}>()
const emit = defineEmits<{ set: [values: Record<string, unknown>] }>()
const scope = useScope()

const SHARED = 'The same for all pools with this schedule'
type Token = Said['parts'][number]
const valueOf = (token: Token) => scope.read(token.field)
const scaleOf = (token: Token) => (token.kind === 'share' ? { scale: 100, unit: '%' } : {})
const set = (token: Token, value: unknown) => scope.set(token.field, value)
const fixed = (token: Token) => props.alone && !token.may_be_own
/** How a value is read that is not changed here. */
function textOf(token: Token): string {
  const value = valueOf(token)
  if (token.kind === 'share') return `${Math.round(Number(value) * 1e6) / 1e4} %`
  if (token.kind === 'timeout') return `${inMinutes(value as Timeout)}`
  return token.options.find((each) => each.value === String(value))?.text ?? String(value)
}
/** Choices between yes and no are written as words. */
function choose(token: Token, value: string): void {
  const chosen = typeof valueOf(token) === 'boolean' ? value === 'true' : value
  // A part of a part is written in place; what is set as a whole may mean more to whoever hears it.
  if (token.field.includes('.')) set(token, chosen)
  else emit('set', { [token.field]: chosen })
}
</script>

<template>
  <template v-for="(part, k) in said.parts" :key="part.field || `text ${k}`">
    <template v-if="!part.field">{{ part.text }}</template>
    <template v-else>
      <b v-if="fixed(part)" :title="SHARED">{{ textOf(part) }}</b>
      <ChoiceToken
        v-else-if="part.kind === 'choice' || part.kind === 'site'"
        :label="part.label"
        :path="scope.pathOf(part.field)"
        :options="
          part.kind === 'site'
            ? sites.map((value) => ({ value, text: called('sites', value) }))
            : part.options
        "
        :model-value="String(valueOf(part))"
        @update:model-value="choose(part, $event)"
      />
      <ValueToken
        v-else-if="part.kind === 'timeout'"
        kind="timeout"
        unit="min"
        list="never"
        :label="`${part.label} in minutes`"
        :path="scope.pathOf(part.field)"
        :model-value="inMinutes(valueOf(part) as Timeout)"
        @update:model-value="set(part, inSeconds(String($event)))"
      />
      <b v-else-if="part.kind === 'name'">{{ textOf(part) }}</b>
      <FieldToken
        v-else
        :field="part.field"
        :label="part.label"
        :kind="part.kind === 'clock' || part.kind === 'text' ? part.kind : 'number'"
        v-bind="scaleOf(part)"
      />
      <span v-if="part.own" class="own" data-testid="own-value">
        (here alone; else {{ part.elsewhere }})
      </span>
      <button
        v-if="part.without && (part.own || !alone)"
        class="plain without"
        :aria-label="`${part.label}: ${part.own ? 'as elsewhere' : 'leave it out'}`"
        :title="part.own ? 'as elsewhere' : 'leave it out'"
        @click="emit('set', part.without)"
      >
        clear
      </button>
    </template>
  </template>
</template>

<style scoped>
.without {
  color: var(--ink-quiet);
  padding: 0 2px 0 4px;
  font-size: 12px;
}
.own {
  font-size: 12.5px;
  color: var(--brass);
}
.without:hover {
  color: var(--ink);
}
</style>
