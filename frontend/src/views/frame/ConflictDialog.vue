<script setup lang="ts">
import { computed } from 'vue'

import type { StaleProblem } from '@/api/client'

/** Somebody saved in the meantime: what differs, and how to go on. Nothing is lost silently. */
const props = defineProps<{ conflict: StaleProblem | null }>()
const emit = defineEmits<{ resolve: [prefer: 'yours' | 'theirs' | null]; later: [] }>()

const both = computed(() => props.conflict?.changes.filter((c) => c.by === 'both') ?? [])
const shown = computed(() => props.conflict?.changes.slice(0, 14) ?? [])
const hidden = computed(
  () => (props.conflict?.changes.length ?? 0) + (props.conflict?.more ?? 0) - shown.value.length,
)
const WHO = { yours: 'you', theirs: 'they', both: 'both' } as const
</script>

<template>
  <ElDialog
    :model-value="conflict !== null"
    title="Somebody saved in the meantime"
    width="820px"
    align-center
    data-testid="conflict"
    @update:model-value="emit('later')"
  >
    <p>{{ conflict?.detail }}.</p>
    <table>
      <thead>
        <tr>
          <th>What</th>
          <th>Before</th>
          <th>Yours</th>
          <th>Theirs</th>
          <th>Changed by</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="change in shown" :key="change.path" :class="change.by">
          <td class="code">{{ change.path }}</td>
          <td class="code">{{ change.base.slice(0, 40) || '–' }}</td>
          <td class="code">{{ change.yours.slice(0, 40) || '–' }}</td>
          <td class="code">{{ change.theirs.slice(0, 40) || '–' }}</td>
          <td>{{ WHO[change.by] }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="hidden > 0" class="quiet">and {{ hidden }} more</p>
    <template #footer>
      <div class="ways">
      <ElButton @click="emit('later')">Decide later</ElButton>
      <ElButton @click="emit('resolve', null)">Take theirs alone</ElButton>
      <ElButton v-if="both.length" @click="emit('resolve', 'theirs')">
        Join, theirs where both changed
      </ElButton>
      <ElButton type="primary" data-testid="merge" @click="emit('resolve', 'yours')">
        {{ both.length ? 'Join, yours where both changed' : 'Join both' }}
      </ElButton>
      </div>
    </template>
  </ElDialog>
</template>

<style scoped>
.ways {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 8px;
}
.ways :deep(.el-button) {
  margin: 0;
}
table {
  width: 100%;
  border-collapse: collapse;
  margin: 8px 0;
  font-size: 12.5px;
}
th {
  text-align: left;
  border-bottom: 1px solid var(--ink);
}
td {
  border-bottom: 1px solid var(--hair);
  padding: 2px 6px 2px 0;
  overflow-wrap: anywhere;
}
.both td {
  background: var(--buoy-wash);
}
</style>
