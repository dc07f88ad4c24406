<script setup lang="ts">
import { computed } from 'vue'

import { RESOURCE_NAMES } from './density'
import { called } from '@/plan/called'
import { count, money } from '@/ui/format'

import type { Hosts } from './useHosts'

/** Sizes side by side: what each bears, how many hosts the peak needs, what a session costs. */
const props = defineProps<{ hosts: Hosts }>()
const answer = computed(() => props.hosts.answer.value)
const most = computed(() => Math.max(1, ...(answer.value?.sizes.map((s) => s.sessions) ?? [])))
const priceOf = (text: string | null) =>
  text === null ? '–' : money(text, answer.value?.currency ?? 'EUR', 3)
</script>

<template>
  <table v-if="answer" class="lines" data-testid="sizes">
    <thead>
      <tr>
        <th scope="col">Host size</th>
        <th scope="col">Sessions it bears, and what binds</th>
        <th scope="col" class="num">Limit</th>
        <th scope="col" class="num">Hosts for the peak</th>
        <th scope="col" class="num">A session-hour</th>
        <th scope="col" class="num">A month, never off</th>
        <th scope="col" class="num">A commitment pays from</th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="size in answer.sizes"
        :key="size.id"
        :class="{ on: size.id === hosts.size.value?.id, off: size.missing }"
      >
        <th scope="row">
          <button
            class="link"
            :aria-pressed="size.id === hosts.size.value?.id"
            :data-testid="`size-${size.id}`"
            @click="hosts.go({ size: size.id === answer.size ? undefined : size.id })"
          >
            {{ called('sizes', size.id) }}
          </button>
          <small v-if="size.id === answer.size"> in use</small>
          <small class="quiet">
            {{ size.vcpu }} vCPU, {{ size.memory_gib }} GiB<template v-if="size.gpu_gib"
              >, GPU {{ size.gpu_gib }} GiB</template
            ><template v-if="size.burst">, on credits</template
            ><template v-if="size.own_hardware">, own hardware</template>
          </small>
        </th>
        <td>
          <span v-if="size.missing" class="missing">✕ {{ size.missing }}</span>
          <span v-else class="bears">
            <span class="bar" aria-hidden="true"
              ><span :style="{ width: `${(size.sessions / most) * 100}%` }"></span
            ></span>
            <b>{{ size.sessions }}</b> {{ RESOURCE_NAMES[size.binding] }} binds<template
              v-if="size.credits !== null"
              >; {{ size.credits }} while credits last</template
            >
          </span>
        </td>
        <td class="num">{{ size.missing ? '–' : size.limit }}</td>
        <td class="num">{{ size.missing ? '–' : count(size.needed) }}</td>
        <td class="num">
          {{ priceOf(size.per_session_hour)
          }}<span v-if="size.cheapest" class="best" title="the cheapest"> ✓</span>
        </td>
        <td class="num">{{ size.missing ? '–' : money(size.per_month, answer.currency) }}</td>
        <td class="num">
          <span v-for="(term, k) in size.break_even.filter((t) => t.share > 0)" :key="term.years"
            >{{ k ? ', ' : '' }}{{ count(term.share * 100) }}&nbsp;% ({{ term.years }}&nbsp;y)</span
          ><template v-if="!size.break_even.some((t) => t.share > 0)">–</template>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
tr.off td {
  color: var(--ink-quiet);
}
th small {
  margin-left: 6px;
  white-space: nowrap;
  display: inline-block;
}
.bears {
  display: inline-grid;
  grid-template-columns: 110px auto 1fr;
  gap: 8px;
  align-items: baseline;
}
.bar {
  align-self: center;
  height: 8px;
  background: var(--paper-sunk);
}
.bar span {
  display: block;
  height: 100%;
  background: var(--water-2);
}
tr.on .bar {
  background: var(--paper-raised);
}
.missing {
  color: var(--buoy);
}
.best {
  color: var(--lichen);
}
</style>
