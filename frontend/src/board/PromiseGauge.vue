<script setup lang="ts">
import { computed } from 'vue'

/** One figure of the promise: its value against the limit, and the change against the pin. */
const props = defineProps<{
  name: string
  value: number | null
  unbounded: boolean
  limit: number
  kept: boolean
  text: string
  limitText: string
  half: string
  change: string
  better: boolean | null
}>()
const emit = defineEmits<{ why: [] }>()

/** The limit stands at two thirds of the scale; twice the limit and more fills it. */
const fill = computed(() => {
  if (props.unbounded) return 1
  if (props.limit <= 0) return props.value ? 1 : 0
  return Math.min(((props.value ?? 0) / props.limit) * (2 / 3), 1)
})
</script>

<template>
  <button
    class="plain gauge"
    :class="kept ? 'kept' : 'broken'"
    :aria-label="`${name}: ${text}, promise ${limitText}, ${kept ? 'kept' : 'broken'}. Show why`"
    @click="emit('why')"
  >
    <span class="line">
      <span class="name">{{ name }}</span>
      <span class="value"
        >{{ text }}<small v-if="half"> ± {{ half }}</small></span
      >
    </span>
    <span class="scale" aria-hidden="true">
      <span class="fill" :style="{ width: `${fill * 100}%` }"></span>
      <span class="limit"></span>
    </span>
    <span class="line foot">
      <span class="verdict">{{ kept ? '✓ kept' : '✕ broken' }}, promised {{ limitText }}</span>
      <span v-if="change" :class="better === null ? '' : better ? 'good' : 'bad'">{{
        change
      }}</span>
    </span>
  </button>
</template>

<style scoped>
.gauge {
  display: block;
  width: 100%;
  padding: 5px 0;
}
.gauge:hover .name {
  text-decoration: underline;
  text-decoration-color: var(--hair-strong);
  text-underline-offset: 3px;
}
.line {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: 8px;
}
.value {
  font-size: 17px;
  font-weight: 650;
}
small {
  font-size: 12px;
  font-weight: 400;
  color: var(--ink-quiet);
}
.scale {
  display: block;
  position: relative;
  height: 7px;
  background: var(--paper-sunk);
  margin: 2px 0;
}
.fill {
  display: block;
  height: 100%;
}
.kept .fill {
  background: var(--lichen);
}
.broken .fill {
  background: repeating-linear-gradient(90deg, var(--buoy) 0 5px, var(--buoy-wash) 5px 7px);
}
.limit {
  position: absolute;
  left: 66.66%;
  top: -2px;
  bottom: -2px;
  border-left: 2px solid var(--ink);
}
.foot {
  font-size: 12px;
  color: var(--ink-quiet);
}
.kept .verdict,
.good {
  color: var(--lichen);
}
.broken .verdict,
.bad {
  color: var(--buoy);
  font-weight: 600;
}
</style>
