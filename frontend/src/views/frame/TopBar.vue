<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import { useChecks } from '@/stores/checks'
import { usePlan } from '@/plan/store'
import { night, toggleTheme } from '@/theme/theme'

import JobsCorner from './JobsCorner.vue'
import { VIEWS } from './views'

/** The bar over every view of a plan: where one is, what has changed, how to save it. */
defineProps<{ view: string }>()
const emit = defineEmits<{ save: []; back: [] }>()
const store = usePlan()
const checks = useChecks()
const route = useRoute()
const name = computed(() => store.plan?.name ?? '')
/** A name of more letters has a line of its own: it is whole beside whatever else is there. */
const SHORT = 26
const links = computed(() => {
  const { week, pool } = route.query
  return VIEWS.map((item) => ({
    ...item,
    to: { name: item.name, params: { id: store.id }, query: { week, pool } },
  }))
})
</script>

<template>
  <header class="bar" :class="{ long: name.length > SHORT }">
    <RouterLink to="/" class="mark" title="All plans">
      <svg viewBox="0 0 30 20" width="30" height="20" aria-hidden="true">
        <path d="M1 4h9v5h10v-4h9" class="quay" />
        <path d="M1 19v-5c4-2.6 8-2.6 12 0s10 2.6 16-.8v5.8z" class="water" />
      </svg>
      <span class="name">Idle Harbor</span>
    </RouterLink>
    <h1>{{ name }}</h1>
    <nav aria-label="Views">
      <RouterLink
        v-for="item in links"
        :key="item.name"
        :to="item.to"
        :aria-current="item.name === view ? 'page' : undefined"
        :title="`Key ${item.key}`"
        :data-testid="`view-${item.name}`"
      >
        {{ item.title
        }}<span
          v-if="item.name === 'checks' && checks.findings.length"
          class="found"
          :class="{ harm: checks.harms > 0 }"
          :aria-label="`${checks.harms} harmful, ${checks.findings.length} in all`"
          data-testid="found"
          >{{ checks.harms || checks.findings.length }}</span
        >
      </RouterLink>
    </nav>
    <slot />
    <span class="room"></span>
    <span class="end">
      <JobsCorner />
      <span class="state" data-testid="state" :title="`Revision ${store.saved?.number}`">
        r{{ store.saved?.number }}<span v-if="store.dirty" class="edited"> · edited</span>
      </span>
      <button
        class="link"
        :disabled="!store.canUndo"
        data-testid="undo"
        title="Ctrl+Z"
        @click="store.undo"
      >
        Undo
      </button>
      <button
        class="link"
        :disabled="!store.canRedo"
        data-testid="redo"
        title="Ctrl+Y"
        @click="store.redo"
      >
        Redo
      </button>
      <button v-if="store.dirty" class="link" @click="emit('back')">
        Back to r{{ store.saved?.number }}
      </button>
      <button
        class="primary"
        :disabled="!store.dirty"
        data-testid="save"
        title="Ctrl+S"
        @click="emit('save')"
      >
        Save
      </button>
      <button
        class="plain theme"
        :aria-label="night ? 'Show the day chart' : 'Show the night chart'"
        :title="night ? 'Day chart' : 'Night chart'"
        data-testid="theme"
        @click="toggleTheme"
      >
        {{ night ? '☀' : '☾' }}
      </button>
    </span>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: center;
  gap: 12px;
  flex: none;
  flex-wrap: wrap;
  min-height: 44px;
  padding: 0 16px;
  border-bottom: 1px solid var(--hair-strong);
  white-space: nowrap;
}
.mark {
  display: flex;
  align-items: center;
  gap: 8px;
  color: var(--ink);
  text-decoration: none;
  font-weight: 650;
}
.quay {
  fill: none;
  stroke: var(--brass);
  stroke-width: 2;
}
.water {
  fill: var(--water-1);
}
h1 {
  font-size: 15px;
  font-weight: 500;
  padding-left: 12px;
  border-left: 1px solid var(--hair-strong);
  flex: 0 1 auto;
  min-width: min-content;
  max-width: 17ch;
  white-space: normal;
  line-height: 1.15;
  overflow-wrap: anywhere;
}
.long h1 {
  order: -1;
  flex-basis: 100%;
  max-width: none;
  padding: 5px 0 0;
  border: 0;
}
nav {
  display: flex;
  gap: 12px;
  align-self: stretch;
  min-height: 43px;
}
nav a {
  display: flex;
  align-items: center;
  color: var(--ink);
  text-decoration: none;
  border-bottom: 2px solid transparent;
  border-top: 2px solid transparent;
}
nav a:hover {
  border-bottom-color: var(--hair-strong);
}
nav a[aria-current] {
  border-bottom-color: var(--ink);
  font-weight: 650;
}
.found {
  margin-left: 4px;
  font-size: 11.5px;
  font-variant-numeric: tabular-nums;
  color: var(--ink-quiet);
}
.found.harm {
  color: var(--buoy);
  font-weight: 650;
}
.bar :slotted(label) {
  color: var(--ink-quiet);
}
@media (max-width: 1500px) {
  .mark .name,
  .edited {
    display: none;
  }
  .bar,
  nav {
    gap: 9px;
  }
  .bar {
    padding: 0 12px;
  }
}
.room {
  flex: 1;
}
.end {
  display: flex;
  align-items: center;
  gap: inherit;
}
.state {
  color: var(--ink-quiet);
}
.theme {
  width: 28px;
  height: 28px;
  text-align: center;
  font-size: 15px;
}
@media print {
  .bar {
    display: none;
  }
}
</style>
