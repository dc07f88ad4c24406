<script setup lang="ts">
import type { Check } from '@/api/client'
import { useChecks } from '@/stores/checks'

/** Something that a check found: what, why it matters, and its mend with one click if it has one. */
defineProps<{ finding: Check; where?: boolean }>()
const checks = useChecks()
</script>

<template>
  <div class="finding" :class="finding.severity" data-testid="finding">
    <span class="mark" :aria-label="finding.severity === 'harm' ? 'harm' : 'doubt'" role="img">
      {{ finding.severity === 'harm' ? '▲' : '?' }}
    </span>
    <div>
      <p>
        <b v-if="where" class="where">{{ finding.where }} · </b
        >{{ finding.message.charAt(0).toUpperCase() + finding.message.slice(1) }}.
      </p>
      <p class="matters">
        {{ finding.matters.charAt(0).toUpperCase() + finding.matters.slice(1) }}. To mend it,
        {{ finding.mend }}.
        <button v-if="finding.does" class="link" data-testid="mend" @click="checks.mend(finding)">
          {{ finding.does.to_grant ? 'Note that it is requested' : 'Do that' }}
        </button>
        <slot />
      </p>
    </div>
  </div>
</template>

<style scoped>
.finding {
  display: grid;
  grid-template-columns: 20px 1fr;
  padding: 4px 0;
  line-height: 1.45;
}
.mark {
  font-weight: 700;
}
.harm .mark {
  color: var(--buoy);
}
.doubt .mark {
  color: var(--brass);
  padding-left: 3px;
}
.where {
  font-weight: 650;
}
.matters {
  color: var(--ink-quiet);
}
.matters :slotted(a) {
  margin-left: 10px;
}
.matters button {
  color: var(--ink);
}
</style>
